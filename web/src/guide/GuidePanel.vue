<script setup lang="ts">
/**
 * A page of the guide beside the music. What stands in bold names a control: pointed at, the control shows itself; a
 * step whose controls were all used is ticked.
 */
import { mdiClose } from '@mdi/js'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { isCovered } from '@/app/keyboard'
import { useGuideBeside } from './beside'
import { controlCalled, isCalled, isPressed, keyCalled } from './named'
import { PAGES } from './pages'

const { kept, openAt, close, triedOn, setTried } = useGuideBeside()
const page = computed(() => PAGES.find(({ name }) => name === kept.value.page) ?? PAGES[0])
const place = computed(() => PAGES.findIndex(({ name }) => name === page.value?.name))
const article = useTemplateRef<HTMLElement>('article')

/** The steps of the page: what is said in one go, and the names of the controls in it. */
interface Step { element: HTMLElement; names: { name: string; told: string }[] }
let steps: Step[] = []
const address = (step: number, name: string) => `${step} ${name}`
watch([page, article], async () => {
  await nextTick()
  steps = [...(article.value?.querySelectorAll<HTMLElement>('li, p, td') ?? [])]
    .filter((element) => element.querySelector('strong'))
    .map((element, i) => ({
      element,
      names: [...element.querySelectorAll('strong')].map((strong) => {
        strong.tabIndex = 0
        return { name: strong.textContent, told: address(i, strong.textContent) }
      }),
    }))
  tick()
}, { immediate: true })
function tick(): void {
  const tried = triedOn(page.value?.name ?? '')
  for (const { element, names } of steps) {
    const done = names.every(({ told }) => tried.includes(told))
    element.classList.toggle('done', done)
    element.classList.add('step')
  }
}
/** What was just used is ticked in the first step that still waits for it. */
function used(isIt: (name: string) => boolean): void {
  const tried = triedOn(page.value?.name ?? '')
  for (const { names } of steps) {
    const found = names.filter(({ name, told }) => !tried.includes(told) && isIt(name))
    if (!found.length) continue
    setTried(page.value?.name ?? '', [...tried, ...found.map(({ told }) => told)])
    return tick()
  }
}
const early = { capture: true }
const outside = (target: EventTarget | null): target is Element =>
  target instanceof Element && !target.closest('.guide-panel')
for (const kind of ['click', 'pointerup', 'change'] as const) {
  useEventListener(document, kind, ({ target }) => outside(target) && used((name) => isCalled(target, name)), early)
}
useEventListener(document, 'keydown', (event) => {
  if (!outside(event.target)) return
  // What is typed into what lies over the page is no key, also before its field has the focus.
  if (!isCovered() && !event.target.matches('input:not([type=range], [type=checkbox]), textarea')) {
    used((name) => isPressed(name, event))
  }
  if (/^(Arrow|Page|Enter| )/.test(event.key)) used((name) => isCalled(event.target as Element, name))
}, early)

/** Where the control is that is pointed at in the text. */
const ring = ref<{ left: string; top: string; width: string; height: string } | null>(null)
const missing = ref('')
function point({ target }: Event): void {
  const at = target instanceof Element ? target : null
  const strong = at?.closest('strong') ?? at?.closest('.step')?.querySelector('strong')
  ring.value = null
  missing.value = ''
  if (!strong) return
  const name = strong.textContent
  const key = keyCalled(name)
  const control = controlCalled(name)
  if (!control) {
    missing.value = key ? 'A key of the keyboard.' : `“${name}” is not on the screen now.`
    return
  }
  control.scrollIntoView({ block: 'nearest' })
  const box = control.getBoundingClientRect()
  ring.value = {
    left: `${box.left - 5}px`, top: `${box.top - 5}px`, width: `${box.width + 10}px`, height: `${box.height + 10}px`,
  }
}
function leave(): void {
  ring.value = null
  missing.value = ''
}
function turn(by: number): void {
  const next = PAGES[place.value + by]
  if (next) openAt(next.name)
}
function again(): void {
  setTried(page.value?.name ?? '', [])
  tick()
}
</script>

<template>
  <section v-if="page" class="guide-panel pane" aria-label="Guide" data-region>
    <header>
      <button type="button" class="plain turn" :disabled="place === 0" @click="turn(-1)">back</button>
      <button type="button" class="plain turn" :disabled="place === PAGES.length - 1" @click="turn(1)">next</button>
      <button type="button" class="plain turn" @click="again">begin again</button>
      <v-btn :icon="mdiClose" size="x-small" aria-label="Close the guide" @click="close" />
    </header>
    <!-- eslint-disable vue/no-v-html -- our own pages, rendered with HTML in them switched off -->
    <article
      ref="article" :key="page.name" @pointerover="point" @pointerleave="leave" @focusin="point" @focusout="leave"
      v-html="page.html"
    />
    <!-- eslint-enable vue/no-v-html -->
    <p v-if="missing" class="missing" role="status">{{ missing }}</p>
    <Teleport to="body"><span v-if="ring" class="guide-ring" :style="ring" /></Teleport>
  </section>
</template>

<style scoped>
.guide-panel {
  position: relative; display: flex; flex-direction: column; min-height: 0; background: var(--card);
  border-left: 1px solid var(--rule); padding: 8px 4px 6px 12px;
}
header { display: flex; align-items: center; gap: 10px; font-size: 12.5px; }
header :last-child { margin-left: auto; }
.turn { min-height: 24px; color: var(--link); font-weight: 600; }
.turn:disabled { color: var(--quiet); opacity: 0.6; cursor: default; }
article {
  flex: 1; min-height: 0; overflow-y: auto; padding-right: 8px; font: 14px/1.42 'Source Serif 4 Variable', serif;
}
article :deep(h1) { font: 600 18px/1.25 'Fraunces Variable', serif; margin: 4px 0 6px; }
article :deep(h2) { font-size: 15px; margin: 12px 0 3px; }
article :deep(p), article :deep(ul), article :deep(ol) { margin-bottom: 7px; }
article :deep(ul), article :deep(ol) { padding-left: 0; list-style: none; }
article :deep(img) { display: none; }
article :deep(table) { font-size: 13px; }
article :deep(.step) { position: relative; padding-left: 20px; margin-bottom: 5px; }
article :deep(.step)::before {
  content: ''; position: absolute; left: 2px; top: 4px; width: 9px; height: 9px; border: 1.5px solid var(--quiet);
  transform: rotate(45deg);
}
article :deep(.step.done)::before { background: var(--ink); border-color: var(--ink); }
article :deep(.step.done) { color: var(--quiet); }
article :deep(strong) { cursor: help; border-bottom: 1px solid var(--rule); }
/* It lies over the text: were it among it, what is pointed at would move away. */
.missing {
  position: absolute; left: 12px; right: 12px; bottom: 6px; pointer-events: none; font-size: 12.5px;
  color: var(--quiet); background: var(--card); border-top: 1px solid var(--rule); padding: 2px 0;
}
</style>
<style>
.guide-ring {
  position: fixed; z-index: 3000; pointer-events: none; border: 3px solid var(--ink); outline: 2px solid var(--card);
  border-radius: 10px;
}
</style>
