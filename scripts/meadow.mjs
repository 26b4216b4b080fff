// npm run meadow: the command line; installs what is missing, then hands over to cli/main.ts.
import { spawnSync } from 'node:child_process'
import { bin, installPackages } from './prepare.mjs'
import { join } from 'node:path'
import { root } from './prepare.mjs'

if (!installPackages()) process.exit(1)
const result = spawnSync(process.execPath, ['--import', `file://${bin('tsx/dist/esm/index.mjs')}`, '--no-warnings', join(root, 'cli/main.ts'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  // Files are named as from where the command was given.
  cwd: process.env.INIT_CWD ?? process.cwd(),
})
process.exit(result.status ?? 1)
