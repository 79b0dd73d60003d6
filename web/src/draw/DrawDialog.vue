<script setup lang="ts">
/** A clip or a pattern as a picture: seen before it is saved, on paper or by lamplight, as SVG or PNG. */
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { ThemeName } from '@/app/colours'
import { useNotices } from '@/app/notices'
import { saveFile } from '@/app/saveFile'
import { useThemeName } from '@/app/theme'
import { useReturnFocus } from '@/app/useReturnFocus'
import { lookAt } from '@/pattern/inParts'
import { usePattern } from '@/pattern/pattern'
import { asPng, asSvg, clipPicture, patternPicture, type Picture } from './picture'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ of: { kind: 'clips' | 'pattern'; id: number; name: string } | null }>()
const pattern = usePattern()
const notices = useNotices()
const { name: theme } = useThemeName()
const chosen = ref<ThemeName>('paper')
const drawn = shallowRef<((theme: ThemeName) => Picture) | null>(null)
useReturnFocus(open)
watch(open, async (now) => {
  drawn.value = null
  const what = props.of
  if (!now || !what) return
  chosen.value = theme.value
  const found = await notices.attempt(async () => {
    if (what.kind === 'clips') {
      const { view } = await ask(api.GET('/api/clips/{clip_id}/state', { params: { path: { clip_id: what.id } } }))
      drawn.value = (name) => clipPicture(view, what.name, name)
      return
    }
    const body = { revision: pattern.revision, start: 0, end: pattern.frame, chosen: null, edits: [] }
    const view = await lookAt(what.id, body)
    drawn.value = (name) => patternPicture(view, what.name, name)
  })
  if (!found) open.value = false
})
const picture = computed(() => drawn.value?.(chosen.value) ?? null)
const svg = computed(() => (picture.value ? asSvg(picture.value) : ''))
const shown = computed(() => `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg.value)}`)
const called = () => props.of?.name.replace(/[<>:"/\\|?*]/g, '-') ?? 'picture'
async function save(as: 'svg' | 'png'): Promise<void> {
  if (!picture.value) return
  const content = as === 'svg' ? new Blob([svg.value], { type: 'image/svg+xml' }) : await asPng(picture.value)
  saveFile(content, `${called()}.${as}`)
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="860" aria-label="Draw as a picture">
    <v-card class="card">
      <h2>{{ of?.name }} as a picture</h2>
      <div class="seen"><img v-if="svg" :src="shown" :alt="`${of?.name}, as it will be saved`" /><p v-else role="status"
        class="quiet">Drawing …</p></div>
      <fieldset class="themes">
        <legend class="unseen">Theme</legend>
        <label><input v-model="chosen" type="radio" value="paper" /> on paper</label>
        <label><input v-model="chosen" type="radio" value="lamplight" /> by lamplight</label>
      </fieldset>
      <v-card-actions>
        <v-spacer />
        <v-btn @click="open = false">Cancel</v-btn>
        <v-btn variant="tonal" :disabled="!svg" @click="save('svg')">Save as SVG</v-btn>
        <v-btn variant="flat" color="primary" :disabled="!svg" @click="save('png')">Save as PNG</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 6px; }
h2 { font-size: 20px; }
.seen {
  margin-top: 8px; border: 1px solid var(--rule); border-radius: 8px; overflow: auto; max-height: 56vh;
  min-height: 120px;
}
.seen img { display: block; width: 100%; }
.themes { border: 0; display: flex; gap: 20px; margin-top: 8px; font-size: 14.5px; }
</style>
