// npm run bench: bundles the benchmarks as the application is bundled, then runs them in one process.
import { bin, installPackages, root, run } from './prepare.mjs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

if (!installPackages()) process.exit(1)
const { build } = await import(pathToFileURL(bin('vite/dist/node/index.js')).href)
const out = join(root, '.cache', 'bench')
await build({
  root,
  configFile: false,
  publicDir: false,
  logLevel: 'error',
  build: {
    ssr: true,
    outDir: out,
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      input: { main: join(root, 'bench/main.ts'), worker: join(root, 'bench/worker.ts') },
      output: { entryFileNames: '[name].js' },
    },
  },
})
if (!run(process.execPath, [join(out, 'main.js'), ...process.argv.slice(2)])) process.exit(1)
