import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'], setupFiles: ['tests/setup.ts'] },
  // docs/words.md is read from beside this folder
  server: { fs: { allow: ['..'] }, proxy: { '/api': 'http://127.0.0.1:8462' } },
})
