import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

// The Go server that `make dev` puts behind Vite's.
const server = process.env.AXTREN_URL ?? 'http://127.0.0.1:8437'

export default defineConfig({
  plugins: [vue()],
  build: { outDir: '../app/web/dist', emptyOutDir: false, assetsInlineLimit: 0, target: 'es2022' },
  server: {
    proxy: { '/api': { target: server, changeOrigin: true, ws: true, headers: { origin: server } } },
  },
  test: { environment: 'happy-dom', environmentOptions: { happyDOM: { url: 'http://127.0.0.1/' } } },
})
