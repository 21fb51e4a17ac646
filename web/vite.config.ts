import { fileURLToPath, URL } from 'node:url'

import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

import { stylesheets } from './theme-css.ts'

const WORTH_BYTES = 1024
/** What every page needs of the libraries; the components that not every page shows come later. */
const LATE =
  'multiselect|inputnumber|datatable|column|paginator|textarea|toggle\\w+|radiobutton|selectbutton|slider|progress\\w+' +
  '|popover|datepicker|dialog|confirmdialog|focustrap'
const LATE_ICONS =
  'trash|filter\\w*|calendar|angledouble\\w+|angle(down|up|left)|sort\\w+|pencil|arrow\\w+|bars|chevron(left|right|up)|plus|minus'
const REST_OF_WORDS = readFileSync(new URL('./src/words/en/rest.ts', import.meta.url), 'utf8')
const LATE_WORDS = ['rest', ...[...REST_OF_WORDS.matchAll(/from '\.\/(\w+)'/g)].map(([, name]) => name)].join(
  '|',
)
const FIRST = new RegExp(
  `node_modules/(?!primevue/(${LATE})|@primevue/icons/(${LATE_ICONS})/|@lucide|cropperjs|@cropper)`,
)

/** Lay a compressed copy beside each built file: Django serves it to whoever can read it. */
function compressed(): Plugin {
  let folder = ''
  return {
    name: 'compressed',
    apply: 'build',
    configResolved: ({ build }) => void (folder = build.outDir),
    closeBundle() {
      for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
        const file = join(folder, name)
        if (!/\.(js|css|svg|webmanifest)$/.test(name) || statSync(file).size < WORTH_BYTES) continue
        const bytes = readFileSync(file)
        const quality = { params: { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY } }
        writeFileSync(`${file}.br`, brotliCompressSync(bytes, quality))
        writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }))
      }
    },
  }
}

export default defineConfig(({ command }) => ({
  // built files are served by Django from /static/; the development server serves from /
  base: command === 'build' ? '/static/' : '/',
  plugins: [
    vue({ template: { compilerOptions: { isCustomElement: (tag) => tag.startsWith('cropper-') } } }),
    stylesheets(),
    compressed(),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  // index.html is a Django template: Django fills in the nonce of each response
  html: { cspNonce: '{{ request.csp_nonce }}' },
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0, // no data: URIs, so that the CSP can stay strict
    chunkSizeWarningLimit: 700,
    rolldownOptions: {
      output: {
        codeSplitting: {
          // few requests before the desk stands
          groups: [
            { name: 'library', test: FIRST, priority: 2 },
            {
              debugName: 'words',
              name: (id) => /words.(\w\w)/.exec(id)?.[1] ?? null,
              test: new RegExp(`src/words/\\w\\w/(?!(${LATE_WORDS})\\.)`),
              priority: 1,
            },
            { name: 'DeskPage', test: /sections\/(desk|access\/reviews\/reviews)/, priority: 1 },
            { name: 'late', test: /node_modules\/@?primevue/, minShareCount: 2, priority: 1 },
            {
              name: 'kit',
              test: /src\/(api|kit\/\w+\/(?!NumberField|multi-select|painting|Day\w+|InstantField|SpanFields|TableExport))|words\/(index|primevue|loading)|plugin-vue/,
              minShareCount: 3,
            },
          ],
        },
      },
    },
  },
  server: {
    port: 5173,
    strictPort: true,
    // the object form: Vite's short form changes the Host, and then Django's CSRF check refuses each write
    proxy: { '/api': { target: 'http://127.0.0.1:8000', changeOrigin: false } },
  },
}))
