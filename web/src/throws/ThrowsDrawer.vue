<script setup lang="ts">
/**
 * A drawer of throws: whatever can be made random, each with its bounds as a sentence. One press is one
 * throw, over the chosen lanes or all, and one step of undo.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed, onMounted, shallowRef, watch } from 'vue'
import { api, ask, Refusal, type Edit, type Throw } from '@/api/client'
import { announce } from '@/app/announce'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import SaidWords from '@/sentence/SaidWords.vue'
import { usePlayer } from '@/sound/player'

const emit = defineEmits<{ close: [] }>()
const pattern = usePattern()
const player = usePlayer()
const notices = useNotices()
const LARGEST = 2 ** 31

const known = useLocalStorage<Throw['edit'][]>('jolly-throws', [])
const offered = shallowRef<Throw[]>([])
const chosen = computed(() => (pattern.chosen ? [pattern.chosen, ...pattern.also] : []))
const chosenName = computed(() => {
  const lane = pattern.view?.lanes.find((each) => each.id === pattern.chosen)
  return pattern.also.length ? `${chosen.value.length} lanes` : lane?.name
})

/** Only the latest word counts, however fast it is dragged. */
let asked = 0
let answered: Promise<unknown> = Promise.resolve()
async function offer(of: string | null, slot: string, value: unknown): Promise<void> {
  const number = (asked += 1)
  const body = { pattern: pattern.id, throws: known.value, of, slot, value }
  const answer = ask(api.POST('/api/throws', { body }))
  answered = Promise.allSettled([answer])
  const found = await answer
  if (number !== asked) return
  offered.value = found
  known.value = found.map((each) => each.edit)
}
const turn = (of: string, slot: string, value: unknown) => notices.attempt(() => offer(of, slot, value))
onMounted(() => notices.attempt(async () => {
  try {
    await offer(null, '', null)
  } catch (problem) {
    // What an older page has stored may not be known any more: begin anew.
    if (!(problem instanceof Refusal && problem.status === 422)) throw problem
    known.value = []
    await offer(null, '', null)
  }
}))

// What fits a lane may be otherwise after each change.
watch(() => [pattern.id, pattern.revision], () => { void notices.attempt(() => offer(null, '', null)) })

/** Whether a throw could change something. */
const fits = (each: Throw, lanes: string[] | null) =>
  lanes === null ? each.fits.length > 0 : lanes.some((lane) => each.fits.includes(lane))
const missing = (each: Throw, lanes: string[] | null) =>
  fits(each, lanes) ? undefined : `There is nothing here that “${each.label}” could change.`

async function throwOver(each: Throw, lanes: string[] | null): Promise<void> {
  const { edit, label } = each
  await answered
  const now = offered.value.find((other) => other.edit.do === edit.do) ?? each
  if (!fits(now, lanes)) return
  const thrown: Edit = { ...edit, lanes, throw: Math.floor(Math.random() * LARGEST) }
  if (!(await pattern.commit([thrown]))) return
  player.hearChange()
  announce(`${label} thrown`)
}
</script>

<template>
  <section data-region class="throws" aria-label="Throws">
    <header>
      <h2>Throw</h2>
      <p class="quiet">A press is a throw; Ctrl+Z takes it back.</p>
      <button type="button" class="plain act close" @click="emit('close')">close</button>
    </header>
    <ul>
      <li v-for="each in offered" :key="each.edit.do" :data-throw="each.edit.do">
        <span class="acts">
          <template v-if="each.over === 'lanes'">
            <button v-if="chosen.length" type="button" class="plain act"
              :aria-label="`Throw the ${each.label} of ${chosenName}`"
              :aria-disabled="!fits(each, chosen) || undefined" :title="missing(each, chosen)"
              @click="throwOver(each, chosen)">{{ chosenName }}</button>
            <button type="button" class="plain act" :aria-label="`Throw the ${each.label} of all lanes`"
              :aria-disabled="!fits(each, null) || undefined" :title="missing(each, null)"
              @click="throwOver(each, null)">all lanes</button>
          </template>
          <button v-else type="button" class="plain act" :aria-label="`Throw the ${each.label} of the pattern`"
            @click="throwOver(each, null)">the pattern</button>
        </span>
        <span class="sentence" :title="each.about">
          <SaidWords
            v-for="clause in each.sentence" :key="clause.id" :parts="clause.parts"
            @preview="(slot, value) => turn(each.edit.do, slot, value)"
            @settle="(slot, value) => turn(each.edit.do, slot, value)"
          />
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.throws {
  --lane: var(--quiet); flex: none; background: var(--card); border: 1px solid var(--rule); border-radius: 12px;
  padding: 6px 16px 8px; max-height: clamp(124px, 18vh, 190px); overflow-y: auto;
}
header { display: flex; align-items: baseline; gap: 12px; }
h2 { font-size: 16px; }
header p { font-size: 12.5px; margin: 0; }
.close { margin-left: auto; }
ul { list-style: none; margin: 4px 0 0; padding: 0; display: grid; gap: 3px; }
li { display: flex; align-items: baseline; gap: 12px; }
.acts { flex: none; display: flex; gap: 6px; }
.act {
  font-size: 12.5px; line-height: 22px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 9px;
  white-space: nowrap; overflow: hidden; text-overflow: ellipsis;
}
.act[aria-disabled] { opacity: 0.45; cursor: default; }
.act:not([aria-disabled]):hover { border-color: var(--ink); }
.sentence { font-size: 14.5px; line-height: 1.35; }
@media (max-width: 900px) { li { flex-direction: column; gap: 2px; } .acts { flex: none; } .throws { max-height: none; } }
</style>
