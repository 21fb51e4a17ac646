import { fileURLToPath, URL } from 'node:url'

import { defineConfig } from 'vite'

/** The front end's logic without its screens, for the tests: one script that leaves `logic` behind. */
export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  publicDir: false,
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    lib: { entry: 'src/logic.ts', name: 'logic', formats: ['iife'], fileName: () => 'logic.js' },
    minify: false,
  },
})
