<script setup lang="ts">
/** A lane's sentence as text: written, with what may come next at the caret, and what cannot be read told below. */
import { computed, nextTick, onMounted, ref, useId, useTemplateRef, watch } from 'vue'
import { announce } from '@/app/announce'
import { goHome } from '@/app/keyboard'
import { useWriting } from './useWriting'

const props = defineProps<{ lane: string; name: string }>()
const emit = defineEmits<{ done: [] }>()
const { text, wrong, coming, begin, look, layIn } = useWriting(props.lane)
const field = useTemplateRef<HTMLTextAreaElement>('field')
const mirror = useTemplateRef<HTMLElement>('mirror')
const caretMark = useTemplateRef<HTMLElement>('caretMark')
const list = useId()
/** Which of what may come is marked; none: -1. */
const marked = ref(-1)
const caret = ref(0)
const focused = ref(false)
const place = ref({ left: '0px', top: '0px', maxHeight: '200px' })
const offered = computed(() => (focused.value ? coming.value : []))
/** The text in three stretches: before what cannot be read, it, and after it. */
const stretches = computed(() => {
  const [from, to] = wrong.value ? [wrong.value.start, Math.max(wrong.value.end, wrong.value.start)] : [0, 0]
  return [text.value.slice(0, from), text.value.slice(from, to), text.value.slice(to)]
})
onMounted(async () => {
  if (!(await begin())) return emit('done')
  await nextTick()
  const area = field.value
  area?.focus()
  area?.setSelectionRange(text.value.length, text.value.length)
  typed()
})
/** What was typed, or where the caret was put, is looked at. */
function typed(): void {
  const at = field.value?.selectionStart ?? text.value.length
  caret.value = at
  marked.value = -1
  void look(at)
}
watch(offered, async (now, was) => {
  const held = was[marked.value]?.text
  marked.value = held === undefined ? -1 : now.findIndex((one) => one.text === held)
  if (!now.length) return
  await nextTick()
  const mark = caretMark.value?.getBoundingClientRect()
  const box = mirror.value?.getBoundingClientRect()
  if (!mark || !box) return
  const top = Math.min(mark.bottom, box.bottom) + 4
  const below = innerHeight - top - 12
  const wide = 400
  place.value = {
    left: `${Math.max(8, Math.min(mark.left, innerWidth - wide - 8))}px`, top: `${top}px`, maxHeight: `${Math.max(90, below)}px`,
  }
})
function mark(by: number): void {
  const count = offered.value.length
  marked.value = (marked.value + by + (marked.value < 0 && by < 0 ? 1 : 0) + count) % count
  const one = offered.value[marked.value]
  if (one) announce(`${one.text}${one.about ? `, ${one.about}` : ''}`)
  void nextTick(() => document.getElementById(`${list}-${marked.value}`)?.scrollIntoView({ block: 'nearest' }))
}
/** Take what is offered; the place is that of the newest text, which may not have been looked at yet. */
async function take(wanted: string | undefined): Promise<void> {
  await look(caret.value)
  const one = wanted === undefined ? coming.value[0] : coming.value.find((each) => each.text === wanted)
  if (!one) return
  const before = text.value.slice(0, one.start)
  const apart = before === '' || /[\s(“]$/.test(before) || /^[.,]/.test(one.text) ? '' : ' '
  await put(`${apart}${one.text}`, one.start, one.end)
}
/** Let these words stand in place of [start, end), and go on after them. */
async function put(words: string, start: number, end: number): Promise<void> {
  text.value = text.value.slice(0, start) + words + text.value.slice(end)
  await nextTick()
  field.value?.focus()
  field.value?.setSelectionRange(start + words.length, start + words.length)
  typed()
}
async function mend(offer: string): Promise<void> {
  await look(caret.value)
  const found = wrong.value
  if (!found?.offers.includes(offer)) return
  const before = text.value.slice(0, found.start)
  const apart = found.start === found.end && !/\s$/.test(before) ? ' ' : ''
  await put(`${apart}${offer}`, found.start, found.end)
}
async function finish(): Promise<void> {
  await look(caret.value) // what was typed last may not have been looked at yet
  if (wrong.value) {
    announce(wrong.value.words)
    field.value?.setSelectionRange(wrong.value.start, wrong.value.end)
  } else if (await layIn()) leave()
}
function leave(): void {
  emit('done')
  void nextTick(goHome)
}
function pressed(event: KeyboardEvent): void {
  const { key } = event
  if (event.isComposing) return
  if (offered.value.length && (key === 'ArrowDown' || key === 'ArrowUp') && (marked.value >= 0 || key === 'ArrowDown')) {
    mark(key === 'ArrowDown' ? 1 : -1)
  } else if ((key === 'Tab' && !event.shiftKey && offered.value.length) || (key === 'Enter' && marked.value >= 0)) {
    void take(offered.value[marked.value]?.text)
  }
  else if (key === 'Enter' && !event.shiftKey) void finish()
  else if (key === 'Escape' && marked.value >= 0) marked.value = -1
  else if (key === 'Escape') leave()
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div class="writing">
    <p :id="`${list}-told`" class="above">
      <span v-if="wrong" class="told" role="status">{{ wrong.words }}</span>
      <button v-for="offer in wrong?.offers.slice(0, 4) ?? []" :key="offer" type="button" class="plain offer"
        @mousedown.prevent @click="mend(offer)">{{ offer }}</button>
      <span v-if="!wrong" class="quiet">written · Enter lays it in, Escape leaves it as it was</span>
    </p>
    <div class="paper sentence">
      <div ref="mirror" class="text mirror" aria-hidden="true">{{ stretches[0] }}<span
        class="wrong">{{ stretches[1] }}</span>{{ stretches[2] }}&#8203;</div>
      <div class="text mirror unseen" aria-hidden="true">{{ text.slice(0, caret) }}<span
        ref="caretMark">&#8203;</span>{{ text.slice(caret) }}</div>
      <textarea
        ref="field" v-model="text" class="text" :aria-label="`What ${name} says, as text`" spellcheck="false"
        autocomplete="off" aria-autocomplete="list" aria-haspopup="listbox" :aria-controls="list"
        :aria-activedescendant="marked >= 0 ? `${list}-${marked}` : undefined" :aria-invalid="wrong !== null"
        :aria-describedby="`${list}-told`" rows="3" @input="typed" @click="typed" @keydown="pressed"
        @keyup.left="typed" @keyup.right="typed" @keyup.home="typed" @keyup.end="typed" @focus="focused = true"
        @blur="focused = false"
      />
    </div>
    <Teleport to="main">
      <ul v-show="offered.length" :id="list" class="coming" role="listbox" tabindex="0" aria-label="What may come next"
        :style="place">
        <li v-for="(one, index) in offered" :id="`${list}-${index}`" :key="one.text" role="option"
          :aria-selected="index === marked" :class="{ marked: index === marked }" @mousedown.prevent
          @click="take(one.text)"
        ><b>{{ one.text.replace(/^\. /, '') }}</b> <span class="quiet">{{ one.about }}</span></li>
      </ul>
    </Teleport>
  </div>
</template>

<style scoped>
.writing { display: flex; flex-direction: column; min-height: 0; flex: 1; }
.paper {
  position: relative; flex: 1; min-height: 76px; overflow-y: auto; border: 2px solid var(--quiet); border-radius: 9px;
  background: var(--card);
}
.text {
  font: 16.5px/1.5 'Source Serif 4 Variable', serif; padding: 8px 12px; margin: 0; border: 0; white-space: pre-wrap;
  overflow-wrap: break-word; letter-spacing: normal; width: 100%;
}
.mirror { min-height: 100%; color: transparent; }
.unseen { position: absolute; inset: 0; visibility: hidden; }
textarea.text {
  position: absolute; inset: 0; height: 100%; resize: none; background: transparent; color: var(--ink); outline: none;
  overflow: hidden;
}
.paper:focus-within { border-color: var(--ink); }
.wrong { text-decoration: underline wavy rgb(var(--v-theme-error)); text-decoration-skip-ink: none; }
/* It stands above, where what is offered never lies over it. */
.above { display: flex; flex-wrap: wrap; align-items: baseline; gap: 2px 8px; font-size: 13px; margin: 0 0 5px; }
.told { color: rgb(var(--v-theme-error)); }
.offer { border: 1px solid var(--rule); border-radius: 11px; padding: 0 9px; line-height: 21px; }
.offer:hover { border-color: var(--ink); }
.coming {
  position: fixed; z-index: 2400; width: 400px; overflow-y: auto; list-style: none; margin: 0; padding: 4px;
  background: var(--card); border: 1px solid var(--rule); border-radius: 9px; box-shadow: 0 6px 22px rgb(0 0 0 / 18%);
  font-size: 13.5px; scrollbar-width: thin;
}
.coming li { display: flex; gap: 12px; padding: 4px 8px; border-radius: 6px; cursor: pointer; line-height: 1.35; }
.coming b { flex: 1; min-width: 0; font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.coming .quiet { max-width: 60%; font-size: 12.5px; text-align: right; }
.coming li.marked, .coming li:hover { background: var(--paper); }
</style>
