<script setup lang="ts">
import { mdiDotsHorizontal, mdiLogout, mdiPlus, mdiThemeLightDark } from '@mdi/js'
import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Piece, type Schemas } from '@/api/client'
import { away, insist, newKey } from '@/api/insist'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import AskName from '@/app/AskName.vue'
import RhythmThumb from '@/app/RhythmThumb.vue'
import { day } from '@/app/dates'
import { freeName } from '@/app/freeName'
import { forgetOpen, lastOpen } from '@/app/lastOpen'
import { stillWaits } from '@/app/pictures'
import { useNotices } from '@/app/notices'
import { followLink } from '@/app/saveFile'
import LeavingSoon from '@/account/LeavingSoon.vue'
import { useSession } from '@/session/session'
import { useThemeName } from '@/app/theme'
import { PIECE_FILES, saveAddress, usePieceFiles } from './pieceFiles'

type Deleted = Schemas['DeletedOut']
const session = useSession()
const notices = useNotices()
const router = useRouter()
document.title = 'Pieces · Jolly Lattice'
const theme = useThemeName()
const pieces = ref<Piece[] | null>(null)
const naming = ref(false)
const renaming = ref<Piece | null>(null)

const gone = ref<Deleted[]>([])
const showGone = ref(false)
let loads = 0
/** The pieces as they stand; what was asked before is overtaken, while pictures are waited for too. */
const load = () =>
  notices.attempt(async () => {
    const number = ++loads
    let deleted: Deleted[] | undefined
    do {
      const found = await insist(() => api.GET('/api/pieces'))
      deleted ??= await ask(api.GET('/api/deleted'))
      if (number !== loads) return
      ;[pieces.value, gone.value] = [found, deleted]
    } while (await stillWaits(pieces.value.flatMap(({ patterns }) => patterns)))
  })
onBeforeUnmount(() => (loads += 1))
const bringBack = ({ kind, id }: Deleted) =>
  notices.attempt(async () => {
    if (kind === 'piece') await ask(api.POST('/api/pieces/{piece_id}/restore', { params: { path: { piece_id: id } } }))
    else if (kind === 'pattern') await ask(
      api.POST('/api/patterns/{pattern_id}/restore', { params: { path: { pattern_id: id } } }),
    )
    else await ask(api.POST('/api/clips/{clip_id}/restore', { params: { path: { clip_id: id } } }))
    await load()
  })
const path = (piece: Piece) => ({ params: { path: { piece_id: piece.id } } })

const make = (name: string) =>
  notices.attempt(async () => {
    const body = { name, key: newKey() }
    const piece = await insist(() => api.POST('/api/pieces', { body }))
    await router.push({ name: 'piece', params: { piece: piece.id } })
  })
const rename = (name: string) =>
  notices.attempt(async () => {
    const piece = renaming.value
    if (!piece) return
    await ask(api.PATCH('/api/pieces/{piece_id}', { ...path(piece), body: { name } }))
    await load()
  })
const duplicate = (piece: Piece) =>
  notices.attempt(async () => {
    const body = { key: newKey() }
    await insist(() => api.POST('/api/pieces/{piece_id}/duplicate', { ...path(piece), body }))
    await load()
  })
const remove = (piece: Piece) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/pieces/{piece_id}', path(piece)))
    await load()
    notices.sayGone(`“${piece.name}” is deleted.`, async () => {
      await ask(api.POST('/api/pieces/{piece_id}/restore', path(piece)))
      await load()
    })
  })
function askRename(piece: Piece): void {
  renaming.value = piece
  naming.value = true
}
function askNew(): void {
  renaming.value = null
  naming.value = true
}
const entriesFor = (piece: Piece): Entry[] => [
  { title: 'Rename …', run: () => askRename(piece) },
  { title: 'Duplicate', run: () => void duplicate(piece) },
  { title: 'Save as a file', about: 'with its order, its clips and its sounds', run: () => save([piece.id]) },
  { title: 'Delete', about: 'can be brought back for 30 days', run: () => void remove(piece) },
]
const { bring } = usePieceFiles(load)
const chooser = useTemplateRef<HTMLInputElement>('chooser')
function save(which: number[]): void {
  followLink(saveAddress(which))
}
function chosen(): void {
  const files = [...(chooser.value?.files ?? [])]
  if (chooser.value) chooser.value.value = ''
  if (files.length) void bring(files)
}
useEventListener(window, 'dragover', (event) => event.preventDefault())
useEventListener(window, 'drop', (event) => {
  event.preventDefault()
  const files = [...(event.dataTransfer?.files ?? [])]
  if (files.length) void bring(files)
})
const leave = () =>
  notices.attempt(async () => {
    await session.signOut()
    await forgetOpen()
    await router.push('/door')
  })
/** What can be opened while the server is away. */
const last = ref<{ id: number; name: string } | null>(null)
watch(away, async (now) => {
  if (now) last.value = (await lastOpen(session.username))?.piece ?? null
}, { immediate: true })
onMounted(load)
</script>

<template>
  <header class="top">
    <h1>Jolly Lattice</h1>
    <router-link to="/account" class="who" title="Your account">{{ session.username }}</router-link>
    <v-btn :icon="mdiThemeLightDark" size="small" aria-label="Paper or lamplight" @click="theme.toggle" />
    <v-btn :icon="mdiLogout" size="small" aria-label="Sign out" @click="leave" />
  </header>
  <main>
    <LeavingSoon />
    <div class="line">
      <h2>Pieces</h2>
      <span class="acts">
        <button type="button" class="plain act" title="A file of pieces, or a recipe; or drop it anywhere here"
          @click="chooser?.click()">bring in a file …</button>
        <button v-if="pieces?.length" type="button" class="plain act" title="All pieces as one file"
          @click="save([])">save all</button>
        <v-btn :prepend-icon="mdiPlus" variant="flat" color="primary" @click="askNew">New piece</v-btn>
        <input ref="chooser" type="file" hidden multiple :accept="PIECE_FILES" aria-label="Files of pieces"
          @change="chosen">
      </span>
    </div>
    <p v-if="pieces === null" class="sentence empty" role="status">
      {{ away ? 'The server is away; your pieces are shown as soon as it is back.' : 'Fetching your pieces …' }}
      <router-link v-if="away && last" :to="{ name: 'piece', params: { piece: last.id } }"
        class="act">Open “{{ last.name }}” as it was last</router-link>
    </p>
    <p v-if="pieces?.length === 0" class="sentence empty">
      Nothing here yet. Make a piece, add a lane, and turn its words until the rhythm is good.
    </p>
    <ul class="pieces">
      <li v-for="piece in pieces ?? []" :key="piece.id" class="piece">
        <router-link :to="{ name: 'piece', params: { piece: piece.id } }" class="open">
          <span class="head name">{{ piece.name }}</span>
          <span class="quiet">
            {{ piece.tempo }} bpm · {{ piece.meter[0] }}/{{ piece.meter[1] }} ·
            {{ piece.clips }} {{ piece.clips === 1 ? 'clip' : 'clips' }}
          </span>
          <span v-for="pattern in piece.patterns.slice(0, 2)" :key="pattern.id" class="pattern">
            <span class="picture"><RhythmThumb :thumb="pattern.thumb" /></span>
            <span class="quiet">{{ pattern.name }}</span>
          </span>
          <span v-if="piece.patterns.length > 2" class="quiet">and {{ piece.patterns.length - 2 }} more</span>
        </router-link>
        <PickMenu :label="`More for ${piece.name}`" :entries="entriesFor(piece)">
          <template #opener="{ menu }">
            <v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="small" class="more"
              :aria-label="`More for ${piece.name}`" />
          </template>
        </PickMenu>
      </li>
    </ul>
    <section v-if="gone.length" class="gone" aria-label="Deleted">
      <button type="button" class="plain quiet" :aria-expanded="showGone" @click="showGone = !showGone">
        Deleted in the last 30 days ({{ gone.length }}) {{ showGone ? '▴' : '▾' }}
      </button>
      <ul v-if="showGone">
        <li v-for="each in gone" :key="`${each.kind}${each.id}`">
          <span>{{ each.name }} <span class="quiet">{{ each.kind }}<template
            v-if="each.kind !== 'piece'"> of {{ each.piece }}</template> · goes for good on {{ day(each.until) }}</span></span>
          <v-btn size="small" :aria-label="`Bring back ${each.name}`" @click="bringBack(each)">Bring back</v-btn>
        </li>
      </ul>
    </section>
    <AskName
      v-model="naming" :title="renaming ? 'Rename the piece' : 'A new piece'"
      :name="renaming?.name ?? freeName('Piece 1', pieces?.map(({ name }) => name) ?? [])"
      :action="renaming ? 'Rename' : 'Make it'" @named="(name) => (renaming ? rename(name) : make(name))"
    />
  </main>
</template>

<style scoped>
.top { background: var(--night); color: #f6ecd6; display: flex; align-items: center; gap: 10px; padding: 8px 24px; }
.top h1 { font-size: 24px; flex: 1; }
.who { color: inherit; opacity: 0.85; text-underline-offset: 3px; }
main { padding: 24px 24px calc(24px + var(--notice, 0px)); max-width: 1240px; margin: 0 auto; width: 100%; }
.line { display: flex; justify-content: space-between; align-items: center; margin-bottom: 18px; }
h2 { font-size: 28px; }
.acts { display: flex; align-items: center; gap: 18px; }
.act { color: var(--link); font-weight: 650; font-size: 14px; }
.act:hover { text-decoration: underline; text-underline-offset: 3px; }
.empty { font-size: 20px; }
.pieces { list-style: none; display: grid; gap: 18px; grid-template-columns: repeat(auto-fill, minmax(320px, 1fr)); }
.piece { position: relative; background: var(--card); border: 1px solid var(--rule); border-radius: 14px; }
.open { display: grid; gap: 6px; padding: 16px; color: inherit; text-decoration: none; border-radius: 14px; }
.name { font-size: 21px; padding-right: 40px; }
.pattern { display: grid; gap: 2px; }
.picture { height: 74px; background: rgb(var(--v-theme-background)); border-radius: 8px; padding: 6px; }
.gone { margin-top: 28px; }
.gone ul { list-style: none; margin-top: 8px; max-width: 640px; }
.gone li {
  display: flex; justify-content: space-between; align-items: center; border-bottom: 1px solid var(--rule);
  padding: 2px 0;
}
.more { position: absolute; top: 10px; right: 10px; }
</style>
