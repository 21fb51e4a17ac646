import { fileURLToPath, URL } from 'node:url'

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig(({ command }) => ({
  // built files are served by Django from /static/; the development server serves from /
  base: command === 'build' ? '/static/' : '/',
  plugins: [vue({ template: { compilerOptions: { isCustomElement: (tag) => tag.startsWith('cropper-') } } })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  // index.html is a Django template: Django fills in the nonce of each response
  html: { cspNonce: '{{ request.csp_nonce }}' },
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0, // no data: URIs, so that the CSP can stay strict
    chunkSizeWarningLimit: 700,
  },
  server: {
    port: 5173,
    strictPort: true,
    // the object form: Vite's short form changes the Host, and then Django's CSRF check refuses each write
    proxy: { '/api': { target: 'http://127.0.0.1:8000', changeOrigin: false } },
  },
}))
