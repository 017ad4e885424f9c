import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    // The page runs under a strict content security policy: no inline styles, no data: addresses.
    vue({ template: { compilerOptions: { hoistStatic: false } } }),
    tailwindcss(),
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
  },
})
