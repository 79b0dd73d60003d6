<script setup lang="ts">
/** All shortcuts. */
import { computed } from 'vue'
import { useReturnFocus } from '@/app/useReturnFocus'
import { useClip } from '@/clip/clip'
import { CLIP_SHORTCUTS } from '@/clip/useClipKeys'
import { useCuttings } from '@/cuttings/cuttings'
import { CUTTINGS_SHORTCUTS } from '@/cuttings/keys'
import { useGuideBeside } from '@/guide/beside'
import { ORDER_SHORTCUTS } from '@/order/handKeys'
import { useOrder } from '@/order/order'
import { SHORTCUTS } from './shortcuts'

const open = defineModel<boolean>({ required: true })
const clip = useClip()
const order = useOrder()
const cuttings = useCuttings()
/** Keys of an open clip; what plays, takes back and explains is the same everywhere. */
const COMMON = ['Space', 'Ctrl+Z, Ctrl+Shift+Z', '?']
const shown = computed(() => {
  const common = SHORTCUTS.filter(({ keys }) => COMMON.includes(keys))
  if (cuttings.shown) return [...CUTTINGS_SHORTCUTS, ...common]
  return clip.id ? [...CLIP_SHORTCUTS, ...common] : order.shown ? [...ORDER_SHORTCUTS, ...common.slice(1)] : SHORTCUTS
})
useReturnFocus(open)
const guide = useGuideBeside()
function besideIt(): void {
  open.value = false
  guide.openAt(guide.kept.value.page)
}
</script>

<template>
  <v-dialog v-model="open" max-width="900" aria-label="Shortcuts">
    <v-card title="Shortcuts">
      <v-card-text>
        <dl>
          <div v-for="shortcut in shown" :key="shortcut.keys">
            <dt><kbd>{{ shortcut.keys }}</kbd></dt>
            <dd>{{ shortcut.does }}</dd>
          </div>
        </dl>
        <p class="quiet">
          Any underlined word: drag it up and down (with Shift, finer), turn the wheel over it, use the arrow keys, or
          press Enter and type.
        </p>
      </v-card-text>
      <v-card-actions>
        <v-btn href="/guide" target="_blank" color="primary" variant="flat">The guide</v-btn>
        <v-btn color="primary" @click="besideIt">The guide beside it</v-btn>
        <v-spacer /><v-btn @click="open = false">Close</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
dl { columns: 2; column-gap: 28px; margin-bottom: 12px; font-size: 14.5px; line-height: 1.35; }
dl > div { display: grid; grid-template-columns: 148px 1fr; gap: 8px; break-inside: avoid; padding-bottom: 7px; }
@media (max-width: 760px) { dl { columns: 1; } }
kbd { font: inherit; font-weight: 700; }
</style>
