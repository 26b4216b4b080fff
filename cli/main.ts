import { parseArgs } from 'node:util'
import { createNodePool } from '../src/runner/node-pool.ts'
import { checkFile } from './check.ts'

const USAGE = `npm run meadow -- check FILE…

  check FILE…   reads each file as the page would and prints one line of JSON for it;
                ends with 1 when any of them is refused. An OBJ takes its materials and
                textures from the other files that are named with it.`

/** Longest that a thread may say nothing, ms; reading has a limit of its own. */
const SILENCE = 600_000

async function check(files: readonly string[]): Promise<number> {
  const pool = createNodePool(0, SILENCE)
  let refused = false
  // What only belongs to a model is not checked by itself.
  const models = files.some((file) => /\.obj$/i.test(file))
  for (const file of files) {
    if (models && /\.mtl$/i.test(file)) continue
    const report = await checkFile(pool, file, files.filter((other) => other !== file))
    if ('refused' in report) refused = true
    process.stdout.write(`${JSON.stringify(report)}\n`)
  }
  pool.close()
  return refused ? 1 : 0
}

const { positionals } = parseArgs({ allowPositionals: true, strict: true, options: {} })
const [command, ...files] = positionals
if (command === 'check' && files.length > 0) process.exitCode = await check(files)
else {
  process.stderr.write(`${USAGE}\n`)
  process.exitCode = 2
}
