<script setup lang="ts">
/**
 * A drawer of what a new lane may be: a drum, or what it walks over; and of the rule that its hits begin by. One
 * press is one lane, heard at once; by keys it is typed, several between commas, and then said word by word.
 */
import { computed, ref, useTemplateRef } from 'vue'
import type { Edit } from '@/api/client'
import { rove } from '@/app/rove'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { laneToSay } from '@/sentence/opening'
import { useSession } from '@/session/session'
import { usePlayer } from '@/sound/player'

type Added = Omit<Extract<Edit, { do: 'add_lane' }>, 'do'>
interface Offered {
  key: string
  title: string
  about: string
  group: string
  lane: Added
}
const emit = defineEmits<{ close: [] }>()
const pattern = usePattern()
const session = useSession()
const player = usePlayer()
const notices = useNotices()
const field = useTemplateRef<HTMLInputElement>('field')
const sought = ref('')

const offered = computed<Offered[]>(() => [
  ...session.offered.beginnings.map(({ begin, title, about, group }) => ({
    key: begin, title, about, group, lane: { begin },
  })),
  ...session.offered.drums.map(({ note, name, also }) => ({
    key: String(note), title: name, about: [`note ${note}`, also].filter(Boolean).join(', '), group: 'drums',
    lane: { note },
  })),
])
/** What a few words may mean, what is called so most nearly first. */
function means(words: string): Offered[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  const isCalled = ({ key, title, about }: Offered) =>
    key === words || wanted.every((word) => `${title} ${about}`.toLowerCase().includes(word))
  const isJustSo = ({ key, title }: Offered) => key === words || title.toLowerCase() === words.toLowerCase()
  const found = offered.value.filter(isCalled)
  return [...found.filter(isJustSo), ...found.filter((each) => !isJustSo(each))]
}
const GROUPS = ['drums', 'pitches'] as const
const parts = computed(() => sought.value.split(',').map((each) => each.trim()).filter(Boolean))
const groups = computed(() => {
  const last = sought.value.split(',').at(-1)?.trim() ?? ''
  const found = means(last)
  return GROUPS.map((group) => ({
    group, those: offered.value.filter((each) => each.group === group && found.includes(each)),
  })).filter(({ those }) => those.length)
})

/** Rules that a new lane may begin by: by itself, or following the chosen one. */
const rule = ref('')
const rules = computed(() => {
  const leader = pattern.lane
  return [
    { key: '', title: 'as usual', about: 'spread evenly, or as what it is mostly plays', lane: {} },
    ...session.offered.standing.map((each) => ({
      key: each.rule, title: each.title, about: each.about, lane: { rule: each.rule },
    })),
    ...(leader ? session.offered.following.map((each) => ({
      key: each.rule, title: each.title.replace(/^its/, `${leader.name}’s`).replace(/\bit\b/, leader.name), about: each.about,
      lane: { follow: each.rule, after: leader.id },
    })) : []),
  ]
})
const begun = computed(() => rules.value.find(({ key }) => key === rule.value) ?? rules.value[0])

async function add(those: Offered[]): Promise<boolean> {
  const how = begun.value?.lane ?? {}
  const edits = those.map(({ lane }): Edit => ({ do: 'add_lane', ...lane, ...how }))
  if (!(await pattern.commit(edits))) return false
  if ('follow' in how) rule.value = '' // the new lane is the chosen one now, and no leader
  const [only] = those
  if (those.length === 1 && only?.lane.note && !player.playing) player.audition(only.lane.note)
  return true
}
async function enter(): Promise<void> {
  const found = parts.value.map((words) => means(words)[0])
  const unknown = parts.value[found.indexOf(undefined)]
  if (unknown) {
    return notices.say(
      `Nothing is called “${unknown}”; type a drum, such as kick, or what the lane walks over, such as bass.`,
    )
  }
  const known = new Set(pattern.view?.lanes.map(({ id }) => id))
  if (!found.length || !(await add(found.filter((each) => each !== undefined)))) return
  sought.value = ''
  const first = pattern.view?.lanes.find(({ id }) => !known.has(id))?.id
  if (first === undefined) return
  laneToSay.value = { pattern: pattern.id, lane: first }
  pattern.choose(first)
}
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <section class="new pane" aria-label="New lanes" data-region>
    <header>
      <h2>New lanes</h2>
      <input
        ref="field" v-model="sought" class="find" type="text" aria-label="Which lanes"
        placeholder="type: kick, closed hat, bass"
        spellcheck="false" @keydown.enter.prevent="enter" @keydown.esc.prevent.stop="emit('close')"
      />
      <button type="button" class="plain chip close" @click="emit('close')">close</button>
    </header>
    <div class="offered">
      <template v-for="{ group, those } in groups" :key="group">
        <h3>{{ group }}</h3>
        <div v-one-stop role="group" :aria-label="group" class="chips" :class="group">
          <button v-for="each in those" :key="each.key" type="button" class="plain chip" :title="each.about"
            @click="add([each])">{{ each.title }}</button>
        </div>
      </template>
      <p v-if="!groups.length" class="quiet none">Nothing is called so.</p>
      <h3>hits</h3>
      <div role="radiogroup" aria-label="Their hits begin" class="chips" @keydown="rove">
        <button
          v-for="each in rules" :key="each.key" type="button" class="plain chip" role="radio" :title="each.about"
          :aria-checked="begun === each" :tabindex="begun === each ? 0 : -1" @click="rule = each.key"
        >{{ each.title }}</button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.new { flex: none; background: var(--card); border: 1px solid var(--rule); border-radius: 12px; padding: 6px 16px 8px; }
header { display: flex; align-items: baseline; gap: 12px; margin-bottom: 5px; }
h2 { font-size: 16px; white-space: nowrap; }
.find {
  flex: 0 1 300px; min-width: 120px; font: inherit; font-size: 13.5px; color: var(--ink); background: var(--paper);
  border: 1px solid var(--rule); border-radius: 7px; padding: 1px 9px;
}
.close { margin-left: auto; }
.offered { display: grid; grid-template-columns: max-content minmax(0, 1fr); gap: 5px 12px; align-items: baseline; }
h3 { font: 600 13px 'Fraunces Variable', serif; color: var(--quiet); }
.chips { display: flex; flex-wrap: wrap; gap: 4px; font-size: 12.5px; }
.chip {
  font-size: 12.5px; line-height: 22px; border: 1px solid var(--rule); border-radius: 11px; padding: 0 9px;
  white-space: nowrap;
}
.chip:hover { border-color: var(--ink); }
/* The drums that are used most, and the others below. */
.drums { max-height: 51px; overflow-y: auto; scrollbar-width: thin; }
.none { grid-column: 1 / 3; font-size: 13px; }
.chip[aria-checked='true'] { background: var(--ink); color: var(--card); }
</style>
