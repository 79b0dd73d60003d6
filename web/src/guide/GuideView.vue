<script setup lang="ts">
/** The guide, a page at a time. */
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useGuideBeside } from './beside'
import { PAGES } from './pages'

const route = useRoute()
const beside = useGuideBeside()
const page = computed(() => PAGES.find(({ name }) => name === route.params.page) ?? PAGES[0])
const next = computed(() => PAGES[PAGES.findIndex(({ name }) => name === page.value?.name) + 1])
watch(page, (now) => {
  document.title = `${now?.title ?? 'Guide'} · Jolly Lattice`
  window.scrollTo(0, 0)
}, { immediate: true })
</script>

<template>
  <div class="guide">
    <nav aria-label="Pages of the guide">
      <h2>Guide</h2>
      <router-link v-for="{ name, title } in PAGES" :key="name" :to="`/guide/${name}`"
        :aria-current="name === page?.name ? 'page' : undefined">{{ title }}</router-link>
      <router-link to="/" class="back" @click="beside.openAt(page?.name ?? '')">read it beside your music</router-link>
      <router-link to="/" class="back">to your pieces</router-link>
    </nav>
    <main v-if="page">
      <!-- eslint-disable-next-line vue/no-v-html -- our own pages, rendered with HTML in them switched off -->
      <article v-html="page.html" />
      <router-link v-if="next" class="next" :to="`/guide/${next.name}`">Next: {{ next.title }}</router-link>
    </main>
  </div>
</template>

<style scoped>
.guide {
  display: grid; grid-template-columns: 250px minmax(0, 760px); gap: 48px; padding: 36px 40px 80px;
  justify-content: center; min-height: 100vh;
}
nav { position: sticky; top: 36px; align-self: start; display: flex; flex-direction: column; gap: 3px; }
nav h2 { font-size: 24px; margin-bottom: 8px; }
nav a { color: var(--ink); text-decoration: none; padding: 4px 10px; border-radius: 8px; font-size: 15px; }
nav a:hover { background: var(--card); }
nav a[aria-current] { background: var(--ink); color: var(--paper); font-weight: 600; }
nav .back { margin-top: 8px; color: var(--link); font-weight: 600; }
.next { display: inline-block; margin-top: 30px; color: var(--link); font-weight: 650; }
article { font-family: 'Source Serif 4 Variable', serif; font-size: 17.5px; line-height: 1.55; }
article :deep(h1) { font: 600 34px/1.2 'Fraunces Variable', serif; margin-bottom: 14px; }
article :deep(h2) { font-size: 21px; margin: 28px 0 6px; }
article :deep(p), article :deep(ul), article :deep(table) { margin-bottom: 12px; }
article :deep(ul) { padding-left: 22px; }
article :deep(li) { margin-bottom: 4px; }
article :deep(img) { display: block; width: 100%; border: 1px solid var(--rule); border-radius: 10px; margin: 6px 0; }
article :deep(table) { border-collapse: collapse; font-size: 16px; }
article :deep(th), article :deep(td) {
  text-align: left; padding: 4px 14px 4px 0; border-bottom: 1px solid var(--rule); vertical-align: top;
}
@media (max-width: 900px) {
  .guide { grid-template-columns: minmax(0, 1fr); gap: 20px; padding: 20px 18px 60px; }
  nav { position: static; }
}
</style>
