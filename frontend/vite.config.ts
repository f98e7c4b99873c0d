import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'

export default defineConfig(({ command }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [vue(), vuetify({ autoImport: true, styles: true })],
  resolve: {
    alias: {
      '@': fileURLToPath(new URL('./src', import.meta.url)),
      // The one source of colour, shared with the pictures made by the server.
      '@figures': fileURLToPath(new URL('../src/hobrix/figures', import.meta.url)),
    },
  },
  build: { chunkSizeWarningLimit: 1200 },
  server: {
    port: 5173,
    fs: { allow: ['..'] },
    proxy: {
      '/api': 'http://127.0.0.1:8000',
      '/enter': 'http://127.0.0.1:8000',
    },
  },
  test: {
    environment: 'happy-dom',
    setupFiles: ['tests/setup.ts'],
    // All files of a worker share their modules: loading them takes six times as long as the tests.
    pool: 'threads',
    isolate: false,
    include: ['tests/**/*.test.ts'],
    server: { deps: { inline: ['vuetify'] } },
    css: false,
  },
}))
