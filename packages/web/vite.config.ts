import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig } from 'vite'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // The package's own names (`#shared/ui/parts`) lead to the sources here, and to the built modules in Node.js (package.json, imports).
  resolve: { conditions: ['vite', ...defaultClientConditions] },
  build: { outDir: 'dist/app', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
})
