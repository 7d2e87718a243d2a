import { defineConfig } from 'vite'

/** The companion as one file with all that it needs, which the server hands out at `/dys.mjs`. */
export default defineConfig({
  ssr: { noExternal: true },
  build: {
    ssr: 'dist/main.js',
    outDir: 'dist/bundle',
    target: 'node20',
    minify: true,
    rolldownOptions: { output: { entryFileNames: 'dys.mjs', codeSplitting: false } },
  },
})
