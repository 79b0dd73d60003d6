<script setup lang="ts">
/** A pad to ride a lane on while it plays: across it are the step lengths, upward it is more human. */
import { computed, ref, useTemplateRef } from 'vue'
import { usePlayer } from '@/sound/player'
import { PACES, useRide } from './useRide'

const props = defineProps<{ lane: string; low?: boolean }>()
const player = usePlayer()
const { riding, ridden, chosen, words, steer, letGo, layIn } = useRide(() => props.lane)
const pad = useTemplateRef<HTMLElement>('pad')
const pace = ref(2)
const human = ref(20)
const text = computed(() => `${PACES[pace.value]} notes, ${human.value} % human`)

function go(): void {
  steer(PACES[pace.value] ?? '1/16', human.value)
}
function follow(event: PointerEvent): void {
  const area = pad.value?.getBoundingClientRect()
  if (!area) return
  const across = (event.clientX - area.left) / area.width
  const up = 1 - (event.clientY - area.top) / area.height
  pace.value = Math.min(PACES.length - 1, Math.max(0, Math.floor(across * PACES.length)))
  human.value = Math.min(100, Math.max(0, Math.round(up * 10) * 10))
  go()
}
let held = false
function press(event: PointerEvent): void {
  if (event.button !== 0) return
  held = true
  pad.value?.setPointerCapture(event.pointerId)
  if (!player.playing) void player.play()
  follow(event)
}
function release(): void {
  if (!held) return
  held = false
  void letGo()
}
function key(event: KeyboardEvent): void {
  const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  const up = { ArrowUp: 10, ArrowDown: -10 }[event.key]
  if (across) pace.value = Math.min(PACES.length - 1, Math.max(0, pace.value + across))
  else if (up) human.value = Math.min(100, Math.max(0, human.value + up))
  else if (event.key === 'Enter' && riding.value) return void letGo()
  else if (event.key !== 'Enter') return
  event.preventDefault()
  event.stopPropagation()
  go()
}
</script>

<template>
  <div class="ride">
    <div
      ref="pad" class="pad" :class="{ low }" role="slider" tabindex="0"
      aria-label="Ride the lane: arrows change step length and feel, Enter lets go"
      :aria-valuetext="text" :aria-valuenow="pace" aria-valuemin="0" :aria-valuemax="PACES.length - 1"
      @pointerdown="press" @pointermove="(event) => held && follow(event)" @pointerup="release" @pointercancel="release"
      @keydown="key"
    >
      <span v-for="(each, i) in PACES" :key="each" class="pace" :class="{ now: i === pace }">{{ each }}</span>
      <span class="spot"
        :style="{ left: `${((pace + 0.5) / PACES.length) * 100}%`, bottom: `calc(26px + (100% - 34px) * ${human / 100})` }" />
    </div>
    <p class="about">
      <template v-if="ridden.length">
        <span v-if="ridden.length > 1" class="rounds" role="radiogroup" aria-label="Round that is laid in">
          Lay in
          <label v-for="(each, i) in ridden" :key="each.pass">
            <input v-model="chosen" type="radio" name="round" :value="i"> pass {{ each.pass + 1 }}
          </label>
        </span>
        <span class="words" :title="words[chosen]">Ridden, in beats: {{ words[chosen] }}.</span>
        <v-btn size="x-small" variant="flat" color="primary" @click="layIn">Lay it in</v-btn>
        <v-btn size="x-small" @click="ridden = []">Forget it</v-btn>
      </template>
      <template
        v-else-if="player.playing">Hold and slide: across for step length, up for a more human feel ({{ text }}).</template>
      <template v-else>Play, then hold and slide: across for step length, up for a more human feel.</template>
    </p>
  </div>
</template>

<style scoped>
.pad {
  position: relative; height: 84px; display: flex; border: 1px solid var(--rule); border-radius: 8px; overflow: hidden;
  cursor: grab; touch-action: none; user-select: none;
}
.pad.low { height: 48px; }
.pace {
  flex: 1; display: flex; align-items: flex-end; justify-content: center; font-size: 12px; color: var(--quiet);
  border-left: 1px dashed var(--rule); padding-bottom: 2px;
}
.pace.now { color: var(--ink); font-weight: 700; background: color-mix(in srgb, var(--lane) 14%, transparent); }
.spot {
  position: absolute; width: 12px; height: 12px; margin: 0 0 -6px -6px; background: var(--lane);
  transform: rotate(45deg);
}
.rounds { display: flex; flex-wrap: wrap; gap: 0 10px; max-height: 40px; overflow-y: auto; }
.words { display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 2; overflow: hidden; }
.about { font-size: 12.5px; color: var(--quiet); margin-top: 4px; }
</style>
