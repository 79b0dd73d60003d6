/** The two themes: paper by day, lamplight by night; the choice is remembered in this browser. */
import { useLocalStorage } from '@vueuse/core'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { computed, watch } from 'vue'
import { atOnce } from './atOnce'
import type { ThemeName } from './colours'

const chosen = useLocalStorage<ThemeName>('jolly-theme', 'paper')

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: chosen.value === 'lamplight' ? 'lamplight' : 'paper',
    themes: {
      paper: {
        dark: false,
        variables: { 'medium-emphasis-opacity': 0.82 },
        colors: {
          background: '#efe6d0', surface: '#fcf7ea', primary: '#4b2f6b', secondary: '#8a4a12',
          error: '#a02a1e', 'on-background': '#2b2240', 'on-surface': '#2b2240',
        },
      },
      lamplight: {
        dark: true,
        variables: { 'medium-emphasis-opacity': 0.82 },
        colors: {
          background: '#241c31', surface: '#33293f', primary: '#f2bd4b', secondary: '#f0a868',
          error: '#ff9f8f', 'on-background': '#f6ecd6', 'on-surface': '#f6ecd6',
        },
      },
    },
  },
  defaults: {
    VTextField: { density: 'compact', variant: 'outlined', hideDetails: 'auto' },
    VSelect: { density: 'compact', variant: 'outlined', hideDetails: 'auto' },
    VBtn: { variant: 'text', ripple: false },
    VList: { density: 'compact' },
    VMenu: { transition: atOnce },
    VDialog: { transition: atOnce },
  },
})

export function useThemeName() {
  const name = computed(() => (chosen.value === 'lamplight' ? 'lamplight' : 'paper'))
  function toggle(): void {
    chosen.value = name.value === 'paper' ? 'lamplight' : 'paper'
  }
  return { name, toggle }
}

watch(chosen, (name) => vuetify.theme.change(name))
