import { defineConfig } from 'vite'
import tailwindcss from '@tailwindcss/vite'

// The application. Fonts and scripts are files of our own: the pages' policy
// allows nothing inline.
export default defineConfig({
  plugins: [tailwindcss()],
  esbuild: { jsx: 'automatic' },
  build: { outDir: 'dist', emptyOutDir: true, assetsInlineLimit: 0, modulePreload: { polyfill: false }, target: 'es2022' },
  server: { proxy: { '/api': 'http://127.0.0.1:8321', '/s': 'http://127.0.0.1:8321', '/sign-in': 'http://127.0.0.1:8321' } },
})
