import { fileURLToPath } from 'node:url'

import vue from '@vitejs/plugin-vue'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue(), components({ dirs: [], resolvers: [ElementPlusResolver()], dts: 'components.d.ts' })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
  test: {
    environment: 'jsdom',
    isolate: false,
    testTimeout: 60_000, // a busy machine is slow, not wrong
    setupFiles: ['src/testing.setup.ts'],
    server: { deps: { inline: ['element-plus'] } },
  },
})
