import react from '@vitejs/plugin-react'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

// The Go binary embeds what is built here. In development Vite answers for the
// page and hands /api to the Go server.
export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: '../app/web/dist', emptyOutDir: true, assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { port: 5173, proxy: { '/api': 'http://127.0.0.1:8040' } },
})
