import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { constants, gzipSync } from 'node:zlib'

import vue from '@vitejs/plugin-vue'
import type { Plugin } from 'vite'
import { defineConfig } from 'vitest/config'

// The Go server that `make dev` puts behind Vite's.
const server = process.env.AXTREN_URL ?? 'http://127.0.0.1:8437'

/** Text is compressed once, when it is built, and not for each page that asks for it. */
function compressed(): Plugin {
  return {
    name: 'compressed',
    writeBundle({ dir }, bundle) {
      for (const name of Object.keys(bundle).filter((one) => /\.(js|css|svg)$/.test(one))) {
        const text = readFileSync(join(dir!, name))
        writeFileSync(join(dir!, `${name}.gz`), gzipSync(text, { level: constants.Z_BEST_COMPRESSION }))
      }
    },
  }
}

export default defineConfig({
  plugins: [vue(), compressed()],
  build: {
    outDir: '../app/web/dist',
    emptyOutDir: false,
    assetsInlineLimit: 0,
    target: 'es2022',
    manifest: 'manifest.json', // by which the server says what a page will need
  },
  server: {
    proxy: { '/api': { target: server, changeOrigin: true, ws: true, headers: { origin: server } } },
  },
  test: { environment: 'happy-dom', environmentOptions: { happyDOM: { url: 'http://127.0.0.1/' } } },
})
