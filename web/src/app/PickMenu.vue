<script setup lang="ts">
/**
 * A menu: arrows walk over its entries, Enter takes one, Escape closes it, and focus goes back to what
 * opened it, or to what the entry opens. With a field (`find`) whatever is typed goes into it.
 */
import { useEventListener } from '@vueuse/core'
import { nextTick, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { giveBack } from './keyboard'
import { openedFrom } from './useReturnFocus'

export interface Entry {
  title: string
  /** What it does, in half a line. */
  about?: string
  /** The heading that it stands under, where it is the first of a group. */
  group?: string
  /** One of several of which one holds: whether it is this. */
  chosen?: boolean
  disabled?: boolean
  /** A line above it. */
  apart?: boolean
  run: () => void
}

/**
 * free: what is typed into its field may be something else than its entries. onOnward: Tab takes what is typed, and
 * goes on to what comes next (1), with Shift to what comes before (-1).
 */
const props = defineProps<{
  label: string; entries: Entry[]; target?: HTMLElement | null; find?: string; free?: boolean
  onOnward?: (by: 1 | -1) => void
}>()
const emit = defineEmits<{ typed: [words: string] }>()
const open = defineModel<boolean>({ default: false })
const list = useTemplateRef<{ $el: HTMLElement }>('list')
const opener = ref<HTMLElement | null>(null)
/** What it stands beside: also while it closes, when that may have left the page. */
const anchor = shallowRef<HTMLElement>()
watch(() => props.target, (target) => target && (anchor.value = target), { immediate: true })
const field = useTemplateRef<HTMLInputElement>('field')
const sought = ref('')
// Keys go into the menu as soon as it is there.
watch([list, open], ([there, now]) => there && now && entered(), { flush: 'post' })

const shown = () => {
  const words = sought.value.toLowerCase().trim()
  return props.entries.filter(
    (entry) => `${entry.title} ${entry.about ?? ''} ${entry.group ?? ''}`.toLowerCase().includes(words),
  )
}
const items = (which: string) => [...(list.value?.$el.querySelectorAll<HTMLElement>(which) ?? [])]
const chosenItem = () => items('[role^=menuitem]')[shown().findIndex((entry) => entry.chosen)]
function entered(): void {
  const first = field.value ?? chosenItem() ?? items('[role^=menuitem]')[0]
  if (!hasFocus()) first?.focus({ preventScroll: true })
}
/** Arrows, Home and End walk over the entries; a letter goes to the next that begins with it. */
function walk(event: KeyboardEvent): void {
  const all = items('[role^=menuitem]:not([aria-disabled=true])')
  const at = all.indexOf(document.activeElement as HTMLElement)
  const down = at < 0 ? Math.max(0, all.indexOf(chosenItem() as HTMLElement)) : (at + 1) % all.length
  const to = { ArrowDown: down, ArrowUp: at > 0 ? at - 1 : -1, Home: 0, End: -1 }[event.key]
  const typing = event.target === field.value
  const letter = !typing && !event.ctrlKey && !event.metaKey && /^[\p{L}\d+/#]$/u.test(event.key)
    ? event.key.toLowerCase()
    : null
  if (event.key === 'Escape') open.value = false // from the first moment on, and nothing behind it
  else if (event.key === 'Enter' && !hasFocus() && sought.value.trim()) takeFound() // typed before the field was there
  else if (event.key === 'Tab' && props.onOnward) {
    if (sought.value.trim()) takeFound()
    open.value = false
    props.onOnward(event.shiftKey ? -1 : 1)
  }
  else if (letter !== null && props.find) {
    sought.value += event.key
    field.value?.focus()
  } else if (letter !== null) {
    const onward = [...all.slice(at + 1), ...all.slice(0, at + 1)]
    onward.find((item) => item.textContent?.trim().toLowerCase().startsWith(letter))?.focus()
  } else if (to !== undefined && !(typing && event.key.length < 5)) {
    all.at(to)?.focus()
  } else {
    return
  }
  event.preventDefault()
  event.stopPropagation()
}
/** There are many menus, and only an open one listens. */
const whileOpen = () => (open.value ? document : null)
// What is typed before the focus has come is meant for the menu too.
useEventListener(whileOpen, 'keydown', (event: KeyboardEvent) => hasFocus() || walk(event), { capture: true })
// A pointer that goes elsewhere closes it, whatever it does there.
useEventListener(whileOpen, 'pointerdown', ({ target }) => {
  const isOwn = target instanceof Node && (list.value?.$el.contains(target) || opener.value?.contains(target))
  if (!isOwn) open.value = false
}, { capture: true })
const hasFocus = () => !!list.value?.$el.contains(document.activeElement)
let taking = false
// Before it opens, what to go back to is noted; where nothing was taken, the focus goes back there.
watch(open, (now) => {
  if (now) {
    sought.value = ''
    opener.value = props.target ?? (document.activeElement as HTMLElement | null)
  } else if (!taking && hasFocus()) giveBack(opener.value)
}, { flush: 'sync' })
async function take(entry: Entry): Promise<void> {
  taking = true
  open.value = false
  openedFrom(opener.value)
  entry.run()
  await nextTick()
  taking = false
  // Unless the entry has opened something that takes the focus.
  if (document.querySelector('[role=dialog]')) return
  if (hasFocus() || document.activeElement === document.body || document.activeElement === opener.value) {
    giveBack(opener.value)
  }
}
/** Enter takes what was found; where something else may be typed, only what is called just so. */
function takeFound(): void {
  const words = sought.value.trim()
  const [only, ...more] = props.free ? shown().filter(({ title }) => title === words) : shown()
  if (only && (more.length === 0 || words)) void take(only)
  else if (props.free && words) {
    open.value = false
    emit('typed', words)
  }
}
</script>

<template>
  <v-menu v-model="open" :target="anchor" max-height="440">
    <template v-if="$slots.opener" #activator="{ props: menu }"><slot name="opener" :menu="menu" /></template>
    <v-sheet ref="list" class="sheet" rounded elevation="4" @keydown.capture="walk">
    <input
      v-if="find" ref="field" v-model="sought" class="find" type="text" :aria-label="find" :placeholder="find"
      @click.stop @keydown.enter.stop.prevent="takeFound"
    />
    <v-list role="menu" :aria-label="label" class="picks" :class="{ columns: entries.some((entry) => entry.about) }">
      <template v-for="entry in shown()" :key="entry.title">
        <li v-if="entry.group" class="group" role="none">{{ entry.group }}</li>
        <v-divider v-if="entry.apart" role="none" />
        <v-list-item
          :role="entry.chosen === undefined ? 'menuitem' : 'menuitemradio'" :aria-checked="entry.chosen"
          :active="entry.chosen"
          :disabled="entry.disabled" :aria-disabled="entry.disabled || undefined" tabindex="-1" @click="take(entry)"
        >
          <v-list-item-title>{{ entry.title }}</v-list-item-title>
          <span v-if="entry.about" class="about">{{ entry.about }}</span>
        </v-list-item>
      </template>
      <li v-if="find && shown().length === 0" class="group"
        role="none">{{ free ? 'Enter takes it as it is typed.' : 'Nothing is called so.' }}</li>
    </v-list>
    </v-sheet>
  </v-menu>
</template>

<style scoped>
.picks { list-style: none; min-width: 180px; max-width: 520px; }
.picks :deep(.v-list-item) { min-height: 32px; padding-block: 2px; }
.picks :deep(.v-list-item__content) { display: flex; align-items: baseline; gap: 12px; }
.picks :deep(.v-list-item-title) { flex: none; font-size: 14.5px; font-weight: 500; letter-spacing: 0; }
.about { font-size: 12.5px; line-height: 1.25; color: var(--quiet); }
.columns :deep(.v-list-item-title) { min-width: 112px; }
.group {
  font-family: 'Fraunces Variable', serif; font-size: 13px; font-weight: 600; padding: 8px 16px 2px;
  color: var(--quiet);
}
.sheet { display: flex; flex-direction: column; min-height: 0; overflow: hidden; }
.sheet > .picks { overflow-y: auto; }
.find {
  margin: 10px 12px 2px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 6px; padding: 3px 8px;
}
</style>
