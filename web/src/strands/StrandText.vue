<script setup lang="ts">
/** All values of a strand as a line of text, to be typed or pasted over. */
import { nextTick, ref, useTemplateRef } from 'vue'
import type { Strand } from '@/api/client'
import { useNotices } from '@/app/notices'
import { markWrong } from '@/app/wrongPart'
import { readValues, written, type Value } from './written'

/** onSettle: stores values; what it promises is false where they are refused. */
const props = defineProps<{ strand: Strand; onSettle: (values: Value[]) => Promise<boolean> }>()
const open = defineModel<boolean>({ required: true })
const notices = useNotices()
const before = props.strand.values.map(written).join(' ')
const text = ref(before)
const field = useTemplateRef<HTMLInputElement>('field')
const wrong = ref(false)
void nextTick(() => field.value?.select())

/** While it is being stored it stays, wherever the focus goes. */
let busy = false
async function take(): Promise<void> {
  const found = readValues(text.value)
  busy = true
  const taken = 'values' in found && found.values.length > 0 && (await props.onSettle(found.values))
  busy = false
  if (taken) {
    open.value = wrong.value = false
    return
  }
  wrong.value = true
  if ('wrong' in found) notices.say(
    `“${found.wrong}” is no value: write numbers, as 96, ranges, as 60–90, or chord steps, as 0+2+4.`,
  )
  else if (!found.values.length) notices.say('A strand has at least one value.')
  await nextTick()
  markWrong(field.value, notices.current?.text ?? '')
}
/** A field that goes loses the focus too: nothing is taken then. */
function giveUp(): void {
  text.value = before
  open.value = false
}
/** Going elsewhere takes what was typed, as in a sentence; what was refused stays. */
function left(): void {
  if (busy || wrong.value) return
  if (text.value === before) open.value = false
  else void take()
}
</script>

<template>
  <input
    ref="field" v-model="text" class="typing" type="text" :aria-label="`All values of ${strand.word}`"
    :aria-invalid="wrong || undefined"
    spellcheck="false" @keydown.enter.prevent="take" @keydown.esc.prevent.stop="giveUp" @keydown.stop @blur="left"
  />
</template>

<style scoped>
.typing {
  width: 100%; font: 13.5px/22px 'Figtree Variable', sans-serif; color: var(--ink); background: var(--paper);
  border: 1px solid var(--lane); border-radius: 5px; padding: 0 6px;
}
.typing[aria-invalid] { border: 2px solid rgb(var(--v-theme-error)); outline: none; }
</style>
