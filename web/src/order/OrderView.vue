<script setup lang="ts">
/**
 * The order of the piece's patterns, in place of the lattice: blocks in true time, the chosen one's sentence, and
 * hands.
 */
import { computed, onMounted, watch } from 'vue'
import { goHome } from '@/app/keyboard'
import { useNotices } from '@/app/notices'
import { sendOrder } from '@/leaving/leaving'
import { useTrail } from '@/pattern/trail'
import { usePiece } from '@/pieces/piece'
import { useShelf } from '@/shelf/shelf'
import BlockWords from './BlockWords.vue'
import HandCards from './HandCards.vue'
import OrderBlocks from './OrderBlocks.vue'
import { useOrderKeys } from './handKeys'
import { useOrder } from './order'
import { usePlaying } from './playing'

const emit = defineEmits<{ edit: [pattern: number]; close: [] }>()
const order = useOrder()
const player = usePlaying()
const piece = usePiece()
const trail = useTrail()
const shelf = useShelf()
const notices = useNotices()
const about = computed(() => {
  const { view } = order
  if (!view?.blocks.length) return 'drag a pattern in, or press its +'
  const bars = Number(view.bars.toFixed(2))
  const seconds = Math.round(view.seconds)
  const long = seconds < 90 ? `${seconds} seconds` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`
  return `${bars} bar${bars === 1 ? '' : 's'}, ${long} · drag a pattern in, drag an edge for more passes`
})
const played = computed(() => trail.since.length)
/** A block's pattern is edited in the lattice; the order waits at the block. */
function edit(id: number): void {
  player.stop()
  player.waiting = order.block?.at ?? 0
  emit('edit', id)
}
useOrderKeys({
  edit: () => order.block && !order.block.problem && edit(order.block.pattern), close: () => emit('close'),
})
// Patterns that come or go are seen in the blocks.
watch(() => piece.patterns.length, () => void notices.attempt(order.read))
watch(() => order.state, () => player.prepareFor(piece.patterns.slice(0, 20).map(({ id }) => id)), { immediate: true })
onMounted(goHome)
</script>

<template>
  <section class="order" aria-label="Order" tabindex="-1" :data-home="order.view?.blocks.length ? undefined : ''">
    <header>
      <h2>The order of patterns</h2>
      <span class="quiet">{{ about }}</span>
    </header>
    <OrderBlocks class="blocks" />
    <BlockWords class="words" @edit="edit" />
    <HandCards class="hands" />
    <footer>
      <v-btn size="small" variant="flat" color="primary" :disabled="!order.view?.blocks.length"
        @click="shelf.keepOrder(piece.name)">Keep the order as a clip</v-btn>
      <button type="button" class="plain keep" :disabled="!order.view?.blocks.length"
        @click="sendOrder(piece.id, piece.name, piece.patterns.map(({ id }) => id))">send …</button>
      <button v-if="played" type="button" class="plain keep" @click="shelf.keepPlayed">
        keep what was just played: {{ played === 1 ? 'one pass' : `${played} passes` }}
      </button>
      <button v-if="played" type="button" class="plain keep"
        title="Keep what was just played, and take it out as a MIDI file"
        @click="shelf.takeOut(shelf.keepPlayed)">as MIDI</button>
      <span class="quiet">all that was played lies on the Trail, hand-made changes too</span>
    </footer>
  </section>
</template>

<style scoped>
.order:focus { outline: none; }
.order { display: flex; flex-direction: column; gap: 8px; flex: 1; min-height: 0; min-width: 0; }
header { display: flex; align-items: baseline; gap: 12px; padding: 0 4px; flex: none; }
header h2 { font-size: 21px; white-space: nowrap; }
header .quiet { font-size: 13px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.blocks { flex: 1; min-height: 218px; max-height: 46vh; }
.words { flex: none; min-height: 122px; max-height: 190px; }
.hands { flex: none; }
footer { display: flex; align-items: center; gap: 16px; font-size: 13px; flex: none; margin-top: auto; }
footer .quiet { margin-left: auto; font-size: 12.5px; }
.keep { color: var(--link); font-weight: 650; }
.keep:hover { text-decoration: underline; text-underline-offset: 3px; }
</style>
