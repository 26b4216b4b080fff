// npm test: types, lint, import rules, unit tests, then the real interface; prints the true totals last.
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { bin, buildApp, installChromium, installPackages, root, run } from './prepare.mjs'

let passed = 0
let failed = 0

/** A check that passes or fails as a whole. */
function check(name, work) {
  console.log(`\n── ${name}`)
  if (work()) passed++
  else {
    failed++
    console.log(`── ${name} failed`)
  }
}

/** Counts the tests of a JSON report; a missing report is one failure. */
function count(path, read) {
  try {
    const totals = read(JSON.parse(readFileSync(join(root, path), 'utf8')))
    passed += totals.passed
    failed += totals.failed
  } catch (error) {
    console.log(`no report at ${path}: ${error.message}`)
    failed++
  }
}

if (!installPackages()) {
  console.log('\n0 passed, 1 failed')
  process.exit(1)
}
const reports = join(root, '.cache', 'reports')
rmSync(reports, { recursive: true, force: true })
mkdirSync(reports, { recursive: true })
const node = (...args) => run(process.execPath, args)
check('types', () => node(bin('typescript/bin/tsc'), '--noEmit'))
check('lint', () => node(bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0'))
check('import rules', () =>
  node(bin('dependency-cruiser/bin/dependency-cruise.mjs'), 'src', 'server', 'cli', 'bench', '--config', '.dependency-cruiser.cjs'),
)
check('compiled kernels', () => node('scripts/make-kernels.mjs', '--check'))

console.log('\n── unit tests')
const unit = run(
  process.execPath,
  ['--experimental-vm-modules', bin('jest/bin/jest.js'), '--json', '--outputFile', '.cache/reports/jest.json'],
  { NODE_OPTIONS: '--no-warnings' },
)
count('.cache/reports/jest.json', (report) => ({
  passed: report.numPassedTests,
  failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
}))
if (!unit) console.log('── unit tests failed')

console.log('\n── the real interface')
if (installChromium() && buildApp()) {
  const end = run(process.execPath, [bin('@playwright/test/cli.js'), 'test'])
  count('.cache/reports/playwright.json', ({ stats }) => ({
    passed: stats.expected + stats.flaky,
    failed: stats.unexpected,
  }))
  if (!end) console.log('── the real interface failed')
} else failed++

console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
