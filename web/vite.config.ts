import vue from '@vitejs/plugin-vue'
import { fileURLToPath, URL } from 'node:url'
import { VitePWA } from 'vite-plugin-pwa'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'

/** What is kept for starting without a network, and what it is called where it is installed. */
const installed = VitePWA({
  registerType: 'prompt',
  injectRegister: false,
  workbox: {
    globPatterns: ['**/*.{js,css,html,svg,woff2}'],
    // What links show is the server's own page, and so is whatever is no page.
    navigateFallbackDenylist: [/^\/(api|l|metrics)(\/|$)/],
    runtimeCaching: [{ urlPattern: /\/assets\/.*\.png$/, handler: 'CacheFirst', options: { cacheName: 'pictures' } }],
  },
  manifest: {
    name: 'Jolly Lattice', short_name: 'Lattice', description: 'Rhythms that you would not have drawn by hand',
    start_url: '/', scope: '/', display: 'standalone', theme_color: '#2b2240', background_color: '#efe6cf',
    categories: ['music'],
    icons: [
      { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
      { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
      { src: '/icon-maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
    ],
  },
})

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), installed],
  resolve: {
    alias: { '@testing': fileURLToPath(new URL('./testing', import.meta.url)), '@': fileURLToPath(new URL('./src', import.meta.url)) },
  },
  test: { pool: 'threads', environmentOptions: { happyDOM: { url: 'http://page.test/' } } },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:8710' } },
  build: { chunkSizeWarningLimit: 1500 },
})
