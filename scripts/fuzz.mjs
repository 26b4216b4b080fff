// npm run fuzz: what takes too long for every day: 2,000 mutants for each reader, 300 random changes under touch-ups, 100 ends in the middle of work, a million instances in the page.
import { bin, buildApp, installChromium, installPackages, run } from './prepare.mjs'

if (!installPackages() || !installChromium() || !buildApp()) process.exit(1)
const readers = run(process.execPath, ['--experimental-vm-modules', bin('jest/bin/jest.js'), 'src/runner/readers'], { FUZZ: process.env.FUZZ ?? '2000', NODE_OPTIONS: '--no-warnings' })
const bounds = run(process.execPath, ['--experimental-vm-modules', bin('jest/bin/jest.js'), 'src/core/fields/bounds'], { BOUND_RUNS: process.env.BOUND_RUNS ?? '2000', NODE_OPTIONS: '--no-warnings' })
const touched = run(process.execPath, ['--experimental-vm-modules', bin('jest/bin/jest.js'), 'src/growth/hands'], { TOUCH_RUNS: process.env.TOUCH_RUNS ?? '300', NODE_OPTIONS: '--no-warnings' })
const ends = run(process.execPath, [bin('@playwright/test/cli.js'), 'test', 'kept', '--timeout', '3600000'], { KILL_ROUNDS: process.env.KILL_ROUNDS ?? '100' })
const measures = run(process.execPath, [bin('@playwright/test/cli.js'), 'test'], { MEADOW_LONG: '1' })
process.exit(readers && bounds && touched && ends && measures ? 0 : 1)
