import vue from '@vitejs/plugin-vue'
import { fileURLToPath, URL } from 'node:url'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  resolve: {
    alias: { '@testing': fileURLToPath(new URL('./testing', import.meta.url)), '@': fileURLToPath(new URL('./src', import.meta.url)) },
  },
  test: { pool: 'threads', environmentOptions: { happyDOM: { url: 'http://page.test/' } } },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:8710' } },
  build: { chunkSizeWarningLimit: 1500 },
})
