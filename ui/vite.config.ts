import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { readFileSync, writeFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    // The page runs under a strict content security policy: no inline styles, no data: addresses.
    vue({ template: { compilerOptions: { hoistStatic: false } } }),
    tailwindcss(),
    {
      // Assets once more, as small as browsers can read them: made here, since the server has better to do.
      name: 'packed',
      writeBundle(options, bundle) {
        for (const name of Object.keys(bundle).filter((n) => /\.(js|css|svg)$/.test(n))) {
          const file = resolve(options.dir ?? '.', name)
          const content = readFileSync(file)
          writeFileSync(`${file}.br`, brotliCompressSync(content))
          writeFileSync(`${file}.gz`, gzipSync(content, { level: 9 }))
        }
      },
    },
    {
      // What the service worker keeps, so that the app opens without a network.
      name: 'shell',
      generateBundle(_options, bundle) {
        const files = Object.keys(bundle).filter((name) => name.startsWith('assets/'))
        this.emitFile({ type: 'asset', fileName: 'shell.json', source: JSON.stringify(files.sort()) })
      },
    },
  ],
  build: {
    outDir: '../roundstone/web/static',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    target: 'es2022',
    rolldownOptions: {
      output: {
        // Few files for a first screen: each is a request, and most places share all of these.
        codeSplitting: {
          groups: [
            { name: 'vendor', test: /node_modules/ },
            { name: 'shared', test: /src[\\/](api|fields|find|keep|support|ribbon)[\\/]/ },
          ],
        },
      },
    },
  },
})
