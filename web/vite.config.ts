import react from '@vitejs/plugin-react'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

// The worker keeps the whole application on the device: every part by its name, the core
// apart, which is large and fetched when there is time.
const worker = VitePWA({
  strategies: 'injectManifest',
  srcDir: 'src',
  filename: 'worker.ts',
  injectRegister: null,
  manifest: false,
  injectManifest: {
    globPatterns: ['**/*.{js,css,html,woff2,svg,png,webmanifest}'],
    globIgnores: ['placeholder.html', '**/*.woff'],
    rollupFormat: 'iife',
  },
})

// The Go binary embeds what is built here. In development Vite answers for the
// page and hands /api to the Go server.
export default defineConfig({
  plugins: [react(), tailwindcss(), worker],
  build: { outDir: '../app/web/dist', emptyOutDir: true, assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { port: 5173, proxy: { '/api': 'http://127.0.0.1:8040' } },
})
