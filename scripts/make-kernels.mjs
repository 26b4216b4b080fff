// Compiles src/core/kernels/assembly to WebAssembly, kept as text in src/core/kernels/kernels.data.ts; --check only tells whether that is up to date.
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './prepare.mjs'
import asc from 'assemblyscript/asc'

const source = 'src/core/kernels/assembly/index.ts'
const target = join(root, 'src/core/kernels/kernels.data.ts')
const files = new Map()
const { error, stderr } = await asc.main(
  [source, '--enable', 'simd', '--runtime', 'stub', '--optimizeLevel', '3', '--noAssert', '--use', 'abort=', '--outFile', 'kernels.wasm'],
  {
    readFile: (name, base) => {
      try {
        return readFileSync(join(base, name), 'utf8')
      } catch {
        return null
      }
    },
    writeFile: (name, contents) => void files.set(name, contents),
    listFiles: () => [],
  },
)
if (error) {
  console.error(stderr.toString() || error.message)
  process.exit(1)
}
const base64 = Buffer.from(files.get('kernels.wasm')).toString('base64')
const text = `// Made by scripts/make-kernels.mjs from src/core/kernels/assembly.\nexport const KERNELS = ${JSON.stringify(base64)}\n`
if (!process.argv.includes('--check')) writeFileSync(target, text)
else if (readFileSync(target, 'utf8') !== text) {
  console.error('src/core/kernels/kernels.data.ts is out of date: run npm run kernels')
  process.exit(1)
}
