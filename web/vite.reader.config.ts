import { defineConfig } from 'vite'

// What a shared page needs and no more: painter, scales and hovering, one script
// and one style with fixed names, which the server refers to with their hash.
export default defineConfig({
  publicDir: false,
  build: {
    outDir: 'dist',
    emptyOutDir: false,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    target: 'es2022',
    rollupOptions: {
      input: { reader: 'src/reader/main.ts' },
      output: {
        entryFileNames: 'assets/[name].js',
        assetFileNames: (asset) => (asset.names[0]?.endsWith('.css') ? 'assets/reader.css' : 'assets/[name]-[hash][extname]'),
      },
    },
  },
})
