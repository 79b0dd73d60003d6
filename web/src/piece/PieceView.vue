<script setup lang="ts">
import { mdiDownload } from '@mdi/js'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import NewLanes from '@/begin/NewLanes.vue'
import ClipView from '@/clip/ClipView.vue'
import { useClip } from '@/clip/clip'
import LatticeView from '@/lattice/LatticeView.vue'
import SentenceText from '@/sentence/SentenceText.vue'
import GuidePanel from '@/guide/GuidePanel.vue'
import { useGuideBeside } from '@/guide/beside'
import ShelfPanel from '@/shelf/ShelfPanel.vue'
import { fileAddress } from '@/leaving/exporting'
import { sendClip } from '@/leaving/leaving'
import SendDialog from '@/leaving/SendDialog.vue'
import LinksDialog from '@/links/LinksDialog.vue'
import { useShelf } from '@/shelf/shelf'
import StepTools from '@/lattice/StepTools.vue'
import StrandPanel from '@/strands/StrandPanel.vue'
import SoundWave from '@/trim/SoundWave.vue'
import DrawDialog from '@/draw/DrawDialog.vue'
import { useClipActs } from './useClipActs'
import ShortcutsDialog from './ShortcutsDialog.vue'
import TopBar from './TopBar.vue'
import PickMenu from '@/app/PickMenu.vue'
import KeysDrawer from '@/keys/KeysDrawer.vue'
import PortsDialog from '@/midi/PortsDialog.vue'
import { useMidiIn } from '@/midi/useMidiIn'
import TrailStrip from '@/trail/TrailStrip.vue'
import { Refusal } from '@/api/client'
import { knowsAll, pointer } from '@/app/firstMinute'
import { unsent } from '@/api/insist'
import { jewel } from '@/app/colours'
import { useShortcuts } from './shortcuts'
import { useWhy } from '@/lattice/useWhy'
import { usePlayer } from '@/sound/player'
import { useNoSound } from '@/sound/useNoSound'
import { letGo } from '@/app/hand'
import OrderView from '@/order/OrderView.vue'
import { useOrder } from '@/order/order'
import CuttingsView from '@/cuttings/CuttingsView.vue'
import { useCuttings } from '@/cuttings/cuttings'
import { useGustKey } from '@/cuttings/gusts'
import { useNotices } from '@/app/notices'
import ArrivingDialog from '@/arriving/ArrivingDialog.vue'
import { isMidi, useArriving } from '@/arriving/arriving'
import PastedText from '@/arriving/PastedText.vue'
import SayDialog from '@/say/SayDialog.vue'
import WriteText from '@/writing/WriteText.vue'
import { lookAtText, mayBeRecipe } from '@/writing/pasted'
import { standsForSteps, useClipboardSteps } from '@/lattice/useClipboardSteps'
import { isCovered, isTyped } from '@/app/keyboard'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'
import { usePiece } from '@/pieces/piece'
import { useLastOpen } from '@/pieces/useLastOpen'
import { useThemeName } from '@/app/theme'
import ThrowsDrawer from '@/throws/ThrowsDrawer.vue'

const route = useRoute()
const router = useRouter()
const pattern = usePattern()
const piece = usePiece()
const trail = useTrail()
const player = usePlayer()
const notices = useNotices()
const clip = useClip()
const order = useOrder()
const cuttings = useCuttings()
const shelf = useShelf()
const { kept: guide } = useGuideBeside()
const drawn = ref<{ kind: 'clips'; id: number; name: string } | null>(null)
const drawing = ref(false)
const clipActs = useClipActs(({ id, name }) => {
  drawn.value = { kind: 'clips', id, name }
  drawing.value = true
})
const onShelf = computed(() => shelf.clips.find(({ id }) => id === clip.id))
const { name: theme } = useThemeName()
useNoSound()
const { words: why, measures, askAgain } = useWhy()
watch(() => pattern.revision, askAgain)
/** Where there is little room the page scrolls as a whole, and the Shelf is a drawer. */
const small = useMediaQuery('(max-width: 900px), (max-height: 560px)')
const shelfOpen = ref(false)
const help = ref(false)
/** What lies beside the Trail. */
const drawer = ref<'keys' | 'throws' | 'lanes' | null>(null)
const toggle = (which: 'keys' | 'throws') => (drawer.value = drawer.value === which ? null : which)
const newLanes = useTemplateRef<{ focus: () => void }>('newLanes')
/** byKey: its field takes what is typed. */
function showLanes(byKey: boolean): void {
  drawer.value = 'lanes'
  if (byKey) void nextTick(() => newLanes.value?.focus())
}
const ports = ref(false)
const saying = ref(false)
/** Whether the chosen lane's sentence is open as text. */
const writing = ref(false)
watch(() => [pattern.id, pattern.chosen], () => (writing.value = false))
useEventListener(window, 'paste', (event: ClipboardEvent) => {
  if (isTyped(event.target) || isCovered() || clip.id || order.shown || cuttings.shown) return
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (mayBeRecipe(text) && !standsForSteps(text)) lookAtText(text, pattern.chosen)
  else pasteSteps()
})
const { paste: pasteSteps } = useClipboardSteps()
const arriving = useArriving()
useShortcuts({
  showList: () => (help.value = true),
  closeDrawer: () => (drawer.value = null),
  newLanes: () => showLanes(true),
  write: () => (writing.value = told.value !== null),
})
useMidiIn()
useGustKey()
// A file that misses its lane would be opened by the browser in place of the page.
useEventListener(window, 'dragover', (event) => event.preventDefault())
useEventListener(window, 'drop', (event) => {
  if (event.defaultPrevented || !event.dataTransfer?.files.length) return
  event.preventDefault()
  const midi = [...event.dataTransfer.files].filter(isMidi)
  if (midi.length) void arriving.arrive(midi)
  else notices.say('Drop a sound on the drum lane that is to be heard by it; MIDI files can be dropped anywhere.')
})

const ready = computed(() => pattern.view !== null && pattern.id === Number(route.params.pattern))
/** The lane that the words on the screen are about; another that was just chosen has none yet. */
const told = computed(() => pattern.view?.chosen ?? null)
/** Until those have come, what is there is of another lane, and no hand can take it for the chosen one's. */
const late = computed(() => told.value !== null && pattern.chosen !== null && told.value.lane !== pattern.chosen)
const place = computed(() => pattern.view?.lanes.findIndex((lane) => lane.id === told.value?.lane) ?? -1)
const ownSound = computed(() => pattern.view?.lanes[place.value]?.sound.own ?? null)
const laneColour = computed(() => jewel(Math.max(0, place.value), theme.value))

watch(
  () => [piece.name, pattern.name],
  ([of, name]) => (document.title = [name, of, 'Jolly Lattice'].filter(Boolean).join(' · ')),
  { immediate: true },
)
/** Open what the address names; `anew`: the piece too, where it is open. */
async function openWanted(anew = false): Promise<void> {
  if (route.name !== 'piece') return
  const wanted = Number(route.params.piece)
  try {
    if (anew || piece.id !== wanted || !route.params.pattern) await piece.open(wanted)
    const first = piece.patterns[0]
    if (!route.params.pattern && first) return await openPattern(first.id)
    await piece.openPattern(Number(route.params.pattern))
  } catch (problem) {
    if (await lastOpen.bringBack(problem, wanted)) return openPattern(pattern.id)
    notices.trouble(problem)
    if (problem instanceof Refusal && problem.status === 404) await router.push('/')
  }
}
async function openPattern(id: number): Promise<void> {
  if (Number(route.params.pattern) !== id) await router.replace({ name: 'piece', params: { piece: piece.id, pattern: id } })
}
const lastOpen = useLastOpen(() => void openWanted(true))
watch(() => [route.params.piece, route.params.pattern], () => openWanted(), { immediate: true })
/** A clip is opened in place of the lattice; its number stands in the address. */
const closeClip = () => void router.push({ query: {} })
watch(() => route.query.clip, async (wanted) => {
  if (typeof wanted !== 'string') return clip.close()
  player.stop()
  if (!(await notices.attempt(() => clip.open(Number(wanted))))) closeClip()
}, { immediate: true })
/** So is the order of patterns. */
watch(() => [route.query.order, piece.id] as const, async ([wanted, id]) => {
  if (wanted === undefined || !id) return order.leave()
  player.stop()
  if (!(await notices.attempt(() => order.open(id)))) closeClip()
}, { immediate: true })
/** And so are cuttings. */
watch(() => [route.query.cuttings, ready.value] as const, ([wanted, there]) => {
  if (wanted === undefined) cuttings.leave()
  else if (there && !cuttings.shown) cuttings.open()
}, { immediate: true })
function editInOrder(id: number): void {
  void router.push({ name: 'piece', params: { piece: piece.id, pattern: id } })
}
// A pattern that was deleted elsewhere is not there to be played or turned any more.
watch(() => pattern.gone, async (gone) => {
  if (!gone) return
  player.stop()
  notices.say(`“${pattern.name}” was deleted in another window.`)
  await router.push('/')
})
onBeforeUnmount(() => {
  letGo()
  player.stop()
  clip.close()
  order.forget()
  cuttings.leave()
  piece.id = 0
})

// A page that is left while edits or passes wait for the server would lose them.
window.onbeforeunload = () => {
  letGo()
  return unsent.value + trail.unsent > 0 ? true : undefined
}
</script>

<template>
  <div v-if="ready && pattern.view" class="page">
    <TopBar :shelf="small" @help="help = true" @shelf="shelfOpen = !shelfOpen" />
    <div class="body">
      <main class="work">
        <ClipView v-if="clip.id" :name="onShelf?.name ?? clip.view?.name ?? ''" @close="closeClip">
          <template v-if="onShelf" #acts>
            <PickMenu :label="`What can be made of ${onShelf.name}`" :entries="clipActs.entries(onShelf)">
              <template #opener="{ menu }"><v-btn v-bind="menu" size="small">more for this clip …</v-btn></template>
            </PickMenu>
            <v-btn :href="fileAddress(clip.id)" download size="small" :prepend-icon="mdiDownload"
              class="file">MIDI file</v-btn>
            <v-btn size="small" @click="sendClip(onShelf, clip.round)">send …</v-btn>
          </template>
        </ClipView>
        <OrderView v-else-if="order.shown" @edit="editInOrder" @close="closeClip" />
        <template v-else-if="cuttings.shown">
          <CuttingsView class="grow" @close="closeClip" />
          <TrailStrip />
        </template>
        <template v-else>
        <LatticeView :view="pattern.view" class="grow" @add="showLanes" />
        <section class="recipe pane" :class="{ said: told }" aria-label="Recipe" :inert="late"
          :style="{ '--lane': laneColour }">
          <div class="lane-words pane" data-region>
            <h2 v-if="told">
              {{ pattern.view.lanes[place]?.name }}
              <template v-if="!writing">
                <button type="button" class="plain say" @click="writing = true">write</button>
                <button type="button" class="plain say" aria-haspopup="dialog"
                  @click="saying = true">say it shorter</button>
              </template>
              <span v-if="measures.lane === told.lane" class="quiet measures"
                :title="measures.words">{{ measures.words }}</span>
              <span v-if="pattern.also.length"
                class="quiet together">and {{ pattern.also.length }} more, changed together</span>
            </h2>
            <WriteText v-if="told && writing" :key="`${pattern.id}/${told.lane}/text`" :lane="told.lane"
              :name="pattern.view.lanes[place]?.name ?? ''" @done="writing = false" />
            <SentenceText v-else-if="told" :key="`${pattern.id}/${told.lane}`" :sentence="told.sentence" :lane="told.lane" />
            <SoundWave v-if="told && ownSound" :lane="told.lane" :own="ownSound" />
            <p v-if="!told"
              class="sentence quiet">Here a lane says what it does, and every underlined word can be turned.</p>
          </div>
          <div class="side pane" data-region>
            <StrandPanel v-if="told" :strands="told.strands" :lane="told.lane" />
            <StepTools v-if="pattern.steps.length && pattern.chosen" :lane="pattern.chosen" />
            <p v-else class="why" role="status">{{ why || 'Point at a step to learn why it plays.' }}</p>
          </div>
        </section>
        <section class="whole pane" aria-label="Pattern">
          <span class="head">{{ pattern.name }}</span>
          <SentenceText class="small" :sentence="pattern.view.sentence" :lane="null" />
          <p v-if="pointer && pattern.view.lanes.length" class="pointer" role="note">
            {{ pointer }} <button type="button" class="plain" aria-label="No more pointers" @click="knowsAll">×</button>
          </p>
          <span v-one-stop class="drawers">
            <button type="button" class="plain keys"
              @click="router.push({ query: { cuttings: null } })">cuttings</button>
            <button type="button" class="plain keys" :aria-expanded="drawer === 'throws'"
              @click="toggle('throws')">throws</button>
            <button type="button" class="plain keys" :aria-expanded="drawer === 'keys'"
              @click="toggle('keys')">keys</button>
            <button type="button" class="plain keys" aria-haspopup="dialog" @click="ports = true">ports</button>
          </span>
          <label class="switch" title="While stopped, hear a changed lane once"><input v-model="player.hearing"
            type="checkbox" /> hear changes</label>
        </section>
        <div class="below" :class="{ shared: drawer }">
          <KeysDrawer v-if="drawer === 'keys'" :style="{ '--lane': laneColour }" @close="drawer = null" />
          <ThrowsDrawer v-else-if="drawer === 'throws'" @close="drawer = null" />
          <NewLanes v-else-if="drawer === 'lanes'" ref="newLanes" @close="drawer = null" />
          <TrailStrip :narrow="drawer !== null" />
        </div>
        </template>
      </main>
      <v-navigation-drawer v-if="small" v-model="shelfOpen" temporary location="end" width="290"><ShelfPanel
        :acts="clipActs.entries" /></v-navigation-drawer>
      <div v-else class="right" :class="{ guided: guide.open }">
        <GuidePanel v-if="guide.open" />
        <ShelfPanel :acts="clipActs.entries" />
      </div>
    </div>
    <ShortcutsDialog v-model="help" />
    <PortsDialog v-model="ports" />
    <PastedText />
    <SayDialog v-if="told" v-model="saying" :lane="told.lane" :name="pattern.view.lanes[place]?.name ?? ''" />
    <ArrivingDialog />
    <SendDialog />
    <LinksDialog />
    <DrawDialog v-model="drawing" :of="drawn" />
  </div>
  <p v-else class="waiting sentence" role="status">Opening the piece …</p>
</template>

<style scoped>
.page { height: 100vh; display: flex; flex-direction: column; }
.body { flex: 1; min-height: 0; display: flex; }
.work { flex: 1; min-width: 0; display: flex; flex-direction: column; padding: 8px 12px 8px; gap: 8px; }
.file { color: var(--link); }
.grow { flex: 1; }
.right { width: 264px; flex: none; display: flex; flex-direction: column; min-height: 0; }
.right.guided { width: 300px; }
.right :deep(.shelf), .right :deep(.guide-panel) { flex: 1; min-height: 0; }
.right.guided :deep(.guide-panel) { flex: 1.6; border-bottom: 1px solid var(--rule); }
/* As high for one lane as for another, so that no row moves under the hand. */
.recipe { display: flex; background: var(--card); border: 1px solid var(--rule); border-radius: 12px; flex: none; }
.recipe.said { height: 214px; }
.lane-words { flex: 1; min-width: 0; padding: 8px 18px; display: flex; flex-direction: column; }
/* The sentence may be long; what can be added to it stays in sight. */
.lane-words :deep(.sentence) { flex: 1; min-height: 0; display: flex; flex-direction: column; }
.lane-words :deep(.clauses) { flex: 0 1 auto; min-height: 0; overflow-y: auto; }
.lane-words :deep(.offers) { flex: 1 0 22px; min-height: 22px; }
.lane-words h2 {
  white-space: nowrap; overflow: hidden; text-overflow: ellipsis; flex: none; font-size: 17px; line-height: 1.2;
  color: color-mix(in srgb, var(--lane) 62%, var(--ink));
}
.together { font-size: 13px; font-weight: 500; }
.say { font: 500 12.5px 'Figtree Variable', sans-serif; color: var(--link); margin-left: 8px; }
.say:hover { text-decoration: underline; text-underline-offset: 3px; }
.side {
  width: 392px; flex: none; border-left: 1px solid var(--rule); padding: 6px 14px; overflow-y: auto; display: flex;
  flex-direction: column; gap: 4px;
}
.why { font-size: 13px; color: var(--quiet); margin-top: auto; }
.measures { font: 500 12px 'Figtree Variable', sans-serif; margin-left: 10px; }
.whole { --lane: var(--quiet); display: flex; gap: 10px; align-items: baseline; min-height: 26px; flex: none; }
.whole :deep(.sentence) {
  font-size: 15px; line-height: 1.4; display: flex; flex-wrap: wrap; gap: 2px 8px; align-items: baseline;
}
.pointer {
  margin-left: auto; flex: none; font-size: 13px; background: color-mix(in srgb, var(--lamp) 34%, var(--card));
  border-radius: 9px; padding: 2px 10px;
}
.drawers { margin-left: auto; flex: none; display: flex; gap: 10px; }
.keys { font-size: 12.5px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 9px; line-height: 20px; }
.pointer ~ .drawers { margin-left: 0; }
.switch { font-size: 12.5px; color: var(--quiet); white-space: nowrap; }
.whole .head { flex: none; }
.whole :deep(.offers) { margin-top: 0; }
.below { flex: none; min-width: 0; }
.shared { display: grid; grid-template-columns: minmax(0, 1fr) 262px; gap: 10px; align-items: end; }
.waiting { padding: 40px; font-size: 20px; }
@media (max-width: 900px), (max-height: 560px) {
  .page { height: auto; min-height: 100vh; }
  .body { display: block; }
  .grow { flex: none; height: max(320px, 76vh); }
  .recipe.said { flex-direction: column; height: auto; }
  .lane-words :deep(.clauses) { overflow: visible; }
  .side { width: auto; border-left: 0; border-top: 1px solid var(--rule); padding: 8px 18px; }
  .whole, .trail { flex-wrap: wrap; }
  .shared { grid-template-columns: minmax(0, 1fr); }
}
@media (min-height: 900px) and (min-width: 901px) { .recipe.said { height: 250px; } }
@media (pointer: coarse) {
  .lane-words :deep(.offers) { flex-basis: 44px; min-height: 44px; }
}
@media (pointer: coarse) and (min-width: 901px) { .recipe.said { height: 272px; } }
</style>
