import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig, type Plugin } from 'vite'

const TABLE = /core\/dist\/contract\/operations\.js$/

/**
 * The table of operations with what a caller needs at run time: the schemas, which only the compiler and the server need, would be a fifth
 * of the first screen.
 */
function addressesOnly(): Plugin {
  return {
    name: 'addresses-only',
    enforce: 'pre',
    load: async (id) => {
      if (!TABLE.test(id)) return null
      const { OPERATIONS } = (await import(id)) as { OPERATIONS: Record<string, { method: string; path: string }> }
      const table = Object.fromEntries(Object.entries(OPERATIONS).map(([name, { method, path }]) => [name, { method, path }]))
      return `export const OPERATIONS = ${JSON.stringify(table)}`
    },
  }
}

export default defineConfig({
  plugins: [addressesOnly(), react(), tailwindcss()],
  // The package's own names (`#shared/ui/parts`) lead to the sources here, and to the built modules in Node.js (package.json, imports).
  resolve: { conditions: ['vite', ...defaultClientConditions] },
  build: { outDir: 'dist/app', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
})
