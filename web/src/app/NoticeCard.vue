<script setup lang="ts">
/**
 * The notice, in the lower right corner: the Shelf makes room for it there, so that it lies over nothing. Whatever is
 * done next takes it away, but for a hand on the notice itself.
 */
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, useTemplateRef, watch } from 'vue'
import { useNotices } from './notices'

const notices = useNotices()
const card = useTemplateRef<HTMLElement>('card')
const { height } = useElementSize(card, undefined, { box: 'border-box' })
const room = computed(() => (notices.current ? height.value + 12 : 0))
watch(room, (now) => document.documentElement.style.setProperty('--notice', `${now}px`))
/** Keys that do nothing by themselves. */
const IDLE = ['Tab', 'Shift', 'Control', 'Alt', 'Meta', 'F6']
/** A text that was refused is being mended: that is what the notice speaks of. */
const isElsewhere = ({ target }: Event) =>
  target instanceof Element && !card.value?.contains(target) && !target.closest('[aria-invalid=true]')
// Once the pointer is up: what it presses must not move away beneath it, which the room that is given back would do.
useEventListener(document, 'pointerdown', notices.hold, { capture: true })
useEventListener(
  document, ['pointerup', 'pointercancel'], (event) => (
    isElsewhere(event) ? setTimeout(notices.passBy) : card.value?.matches(':hover') || notices.stay()
  ),
  { capture: true },
)
useEventListener(document, 'keydown', (event) => isElsewhere(event) && !IDLE.includes(event.key) && notices.passBy(), {
  capture: true,
})

function act(): void {
  const action = notices.current?.action
  notices.dismiss()
  action?.run()
}
</script>

<template>
  <div role="status" class="place">
    <div v-if="notices.current" ref="card" class="notice" @pointerenter="notices.hold" @pointerleave="notices.stay"
      @focusin="notices.hold" @focusout="notices.stay">
      <span data-notice>{{ notices.current.text }}</span>
      <span class="acts">
        <button v-if="notices.current.action" type="button" class="plain act"
          @click="act">{{ notices.current.action.label }}</button>
        <button type="button" class="plain" @click="notices.dismiss">Close</button>
      </span>
    </div>
  </div>
</template>

<style scoped>
/* Above dialogs, which may have something to say too. */
.place { position: fixed; z-index: 3000; right: 8px; bottom: 8px; width: 248px; }
.notice {
  background: #2b2240; color: #f6ecd6; border: 1px solid #8d7fa6; border-radius: 10px; padding: 9px 12px 6px;
  font-size: 13.5px; line-height: 1.35; box-shadow: 0 3px 14px #0004; display: grid; gap: 3px; overflow-wrap: anywhere;
}
.acts { display: flex; justify-content: flex-end; gap: 6px; }
.acts button { font-weight: 650; padding: 3px 8px; border-radius: 7px; min-height: 24px; }
.acts button:hover { background: #ffffff1f; }
.act { color: #f2bd4b; }
@media (max-width: 900px), (max-height: 560px) { .place { top: 8px; bottom: auto; left: 8px; width: auto; max-width: 420px; margin: 0 auto; } }
</style>
