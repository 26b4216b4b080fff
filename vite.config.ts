import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

/** Everything the application may ever want is kept at the first visit, so that it works without its server. */
const offline = VitePWA({
  // A new version waits until the person asks for it: nothing is reloaded under their hands.
  registerType: 'prompt',
  injectRegister: null,
  includeAssets: ['icon.svg'],
  manifest: {
    name: 'Wayward Meadow',
    short_name: 'Meadow',
    description: 'Dress terrains with vegetation and debris that look as if nobody placed them.',
    display: 'standalone',
    start_url: '/',
    background_color: '#f6f1e4',
    theme_color: '#4c6b2f',
    icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
  },
  workbox: {
    globPatterns: ['**/*.{js,css,html,svg,woff,woff2,wasm}'],
    maximumFileSizeToCacheInBytes: 16 * 1024 * 1024,
    navigateFallback: '/index.html',
    cleanupOutdatedCaches: true,
  },
})

/** Names the code that grows: what is kept of an earlier version is grown anew. */
function engineName(): string {
  const hash = createHash('sha256')
  const enter = (folder: string): void => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const path = join(folder, entry.name)
      if (entry.isDirectory()) enter(path)
      else if (!entry.name.includes('.test.')) hash.update(entry.name).update(readFileSync(path))
    }
  }
  for (const folder of ['core', 'growth', 'runner']) enter(join(import.meta.dirname, 'src', folder))
  return hash.digest('hex').slice(0, 16)
}

/** As the server sends them (server/app.ts). */
const ISOLATED = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' }

export default defineConfig({
  define: { __ENGINE__: JSON.stringify(engineName()) },
  plugins: [react(), offline],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  server: { host: '127.0.0.1', headers: ISOLATED },
  preview: { host: '127.0.0.1', headers: ISOLATED },
})
