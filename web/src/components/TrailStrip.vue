<script setup lang="ts">
/** The Trail: a small picture of each pass just heard, the newest last, with Keep on each. */
import { nextTick, useTemplateRef, watch } from 'vue'
import { usePattern } from '@/stores/pattern'
import { usePiece } from '@/stores/piece'
import RhythmThumb from './RhythmThumb.vue'

const piece = usePiece()
const pattern = usePattern()
const strip = useTemplateRef<HTMLElement>('strip')

watch(
  () => piece.trail.at(-1)?.id,
  () => void nextTick(() => strip.value?.scrollTo({ left: strip.value.scrollWidth })),
  { immediate: true },
)
const lanes = () => pattern.view?.lanes.map((lane) => lane.id)
</script>

<template>
  <section class="trail" aria-label="Trail">
    <div class="title"><span class="head">Trail</span><span class="quiet">just heard</span></div>
    <ol ref="strip" tabindex="0">
      <li v-for="pass in piece.trail" :key="pass.id" :data-pass="pass.id">
        <span class="picture"><RhythmThumb :thumb="pass.thumb" :lanes="lanes()" /></span>
        <span class="foot">
          <span>pass {{ pass.number + 1 }}</span>
          <button
            type="button" class="plain keep" :aria-label="`Keep pass ${pass.number + 1}`"
            @click="piece.keep({ passes: [pass.id] })"
          >{{ pass.kept ? 'kept' : 'keep' }}</button>
        </span>
      </li>
      <li v-if="piece.trail.length === 0" class="none quiet">
        Press space: every pass that you hear is laid down here, and can be kept afterwards.
      </li>
    </ol>
  </section>
</template>

<style scoped>
.trail { display: flex; align-items: center; gap: 12px; min-width: 0; }
.title { display: grid; line-height: 1.3; flex: none; }
.title .head { font-size: 15px; }
.title .quiet { font-size: 12px; }
ol { list-style: none; display: flex; gap: 8px; overflow-x: auto; padding: 2px; flex: 1; min-width: 0; scrollbar-width: thin; }
li { flex: none; width: 104px; background: var(--card); border: 1px solid var(--rule); border-radius: 8px; padding: 5px 7px 3px; }
.picture { display: block; height: 32px; }
.foot { display: flex; justify-content: space-between; font-size: 12px; }
.keep { color: var(--link); font-weight: 700; }
.none { width: auto; font-size: 13px; border-style: dashed; padding: 14px; }
</style>
