<script setup lang="ts">
/** MIDI ports: where lanes go, what is followed, words tied to controllers, and what the simulated port received. */
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { saveJson } from '@/app/saveFile'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'
import { ask, canAsk, inPorts, outPorts, receive, settings } from '@/ports/access'
import { CLOCK, told } from '@/ports/messages'
import { received, simulated, SimulatedClock } from '@/ports/simulated'
import { usePlayer } from '@/sound/player'
import { useTies } from './ties'

const open = defineModel<boolean>({ required: true })
const pattern = usePattern()
const player = usePlayer()
const notices = useNotices()
const { ties, learning, wordAt } = useTies()
useReturnFocus(open)

const SIMULATED_CLOCK = 'simulated clock'
const lanes = computed(() => pattern.view?.lanes ?? [])
const key = (lane: string) => `${pattern.id}/${lane}`
function setPort(lane: string, id: string): void {
  const others = Object.fromEntries(Object.entries(settings.value.lanes).filter(([each]) => each !== key(lane)))
  settings.value.lanes = id === 'all' ? others : { ...others, [key(lane)]: id }
}
async function offer(): Promise<void> {
  try {
    await ask()
    if (outPorts.value.length === 1 && !inPorts.value.length) {
      notices.say('The browser knows of no MIDI ports; plug one in, or use the simulated one.')
    }
  } catch {
    notices.say('The browser gives no MIDI ports here; allow them for this page, or use the simulated one.')
  }
}
/** The list, without the many clock messages. */
const shown = computed(() => received.value.filter(({ bytes }) => bytes[0] !== CLOCK).slice(-200).reverse())
const clocks = computed(() => received.value.length - received.value.filter(({ bytes }) => bytes[0] !== CLOCK).length)
useIntervalFn(() => open.value && simulated.show(), 500)
function save(): void {
  simulated.show()
  const first = received.value[0]?.time ?? 0
  const events = received.value.map(({ time, bytes, ahead }) => ({
    milliseconds: Number((time - first).toFixed(3)), ahead: Number(ahead.toFixed(3)), bytes, words: told(bytes),
  }))
  saveJson({ events }, 'simulated-port.json')
}
const lead = ref(settings.value.lead)
function setLead(): void {
  if (lead.value >= -500 && lead.value <= 500) settings.value.lead = lead.value
  else notices.say('The lead time goes from -500 to 500 milliseconds.')
}
const tempo = ref(100)
const running = ref(false)
const clock = new SimulatedClock((bytes, time) => receive(bytes, time, SIMULATED_CLOCK))
function toggleClock(): void {
  running.value = !running.value
  if (running.value) clock.start(Math.min(400, Math.max(20, tempo.value)), 2)
  else clock.stop()
}
watch(() => settings.value.follow, () => {
  if (settings.value.follow === '') player.external = null
})
function learn(): void {
  learning.value = 'word'
  open.value = false
  notices.say('Click the word, then turn a controller or press a key once.')
}
useEventListener(document, 'pointerdown', (event: PointerEvent) => {
  if (learning.value !== 'word') return
  if (wordAt(event.target as HTMLElement)) {
    event.preventDefault()
    event.stopImmediatePropagation()
  } else {
    learning.value = null
  }
}, { capture: true })
const mine = computed(() => ties.value.filter((tie) => tie.pattern === pattern.id))
const laneName = (id: string | null) => lanes.value.find((lane) => lane.id === id)?.name ?? 'the pattern'
</script>

<template>
  <v-dialog v-model="open" max-width="720" scrollable aria-label="MIDI ports">
    <v-card title="MIDI ports">
      <v-card-text class="box">
        <section aria-label="Out">
          <h3>Out</h3>
          <p class="quiet">A lane that goes to a port is heard there, not here. <button v-if="canAsk" type="button"
            class="plain tool" @click="offer">ask the browser for its ports</button></p>
          <label>all lanes to <select v-model="settings.all" aria-label="Port of all lanes"><option
            value="">the built-in sounds</option><option v-for="port in outPorts" :key="port.id"
            :value="port.id">{{ port.name }}</option></select></label>
          <label>leaving <input v-model.number="lead" type="number" min="-500" max="500"
            aria-label="Lead time in milliseconds" @change="setLead" /> ms early</label>
          <label><input v-model="settings.clock" type="checkbox" /> with clock, start and stop</label>
          <div class="lanes">
            <label v-for="lane in lanes" :key="lane.id">{{ lane.name }} <select
              :value="settings.lanes[key(lane.id)] ?? 'all'" :aria-label="`Port of ${lane.name}`"
              @change="setPort(lane.id, ($event.target as HTMLSelectElement).value)"
            ><option value="all">as all</option><option value="">built-in</option><option v-for="port in outPorts"
            :key="port.id" :value="port.id">{{ port.name }}</option></select></label>
          </div>
        </section>
        <section aria-label="In">
          <h3>In</h3>
          <label>follow the clock of <select v-model="settings.follow" aria-label="Clock to follow"><option
            value="">nothing</option><option :value="SIMULATED_CLOCK">{{ SIMULATED_CLOCK }}</option><option
            v-for="port in inPorts" :key="port.id" :value="port.id">{{ port.name }}</option></select></label>
          <span v-if="settings.follow === SIMULATED_CLOCK" class="row">
            <label>at <input v-model.number="tempo" type="number" min="20" max="400"
              aria-label="Tempo of the simulated clock" /> bpm</label>
            <button type="button" class="plain tool"
              @click="toggleClock">{{ running ? 'stop it' : 'start it' }}</button>
          </span>
          <span v-if="player.external !== null" class="quiet">following {{ player.external.toFixed(1) }} bpm</span>
          <p><button type="button" class="plain tool" @click="learn">tie a word to a controller or key …</button></p>
          <ul v-if="mine.length">
            <li v-for="tie in mine"
              :key="`${tie.lane}${tie.slot}`">{{ laneName(tie.lane) }}: {{ tie.label }} ← {{ tie.kind === 'cc' ? 'controller' : 'key' }} {{ tie.number }}, channel {{ tie.channel }}
              <button type="button" class="plain tool" :aria-label="`Untie ${tie.label}`"
                @click="ties = ties.filter((each) => each !== tie)">untie</button></li>
          </ul>
        </section>
        <section aria-label="Simulated port">
          <h3>The simulated port received</h3>
          <span class="row"><span class="quiet">{{ received.length - clocks }} messages, {{ clocks }} clocks</span>
            <button type="button" class="plain tool" @click="save">save the list</button>
            <button type="button" class="plain tool" @click="simulated.forget()">forget it</button></span>
          <ol class="events">
            <li v-for="(event, i) in shown" :key="i"><span
              class="quiet">{{ (event.time / 1000).toFixed(3) }}</span> {{ told(event.bytes) }}</li>
          </ol>
        </section>
      </v-card-text>
      <v-card-actions><v-btn @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.box { display: grid; gap: 12px; font-size: 14px; }
h3 { font-family: 'Fraunces Variable', serif; font-size: 16px; }
section { display: grid; gap: 6px; justify-items: start; }
.lanes { display: grid; grid-template-columns: repeat(auto-fill, minmax(200px, 1fr)); gap: 4px 14px; width: 100%; }
.lanes label { display: flex; justify-content: space-between; gap: 8px; }
select, input[type='number'] {
  font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule); border-radius: 6px;
  padding: 1px 6px; max-width: 220px;
}
input[type='number'] { width: 5em; }
.row { display: flex; gap: 10px; align-items: center; }
.tool { font-size: 12.5px; line-height: 20px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 8px; }
.events {
  list-style: none; font-size: 12.5px; height: 130px; overflow-y: auto; width: 100%; font-variant-numeric: tabular-nums;
  border: 1px solid var(--rule); border-radius: 8px; padding: 4px 8px;
}
ul { list-style: none; }
</style>
