// What the other scripts share: installs and builds only when something is missing or stale.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url))
const marks = join(root, 'node_modules', '.wayward')

/** Runs a command with its output shown; returns whether it succeeded. */
export function run(command, args, env = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } })
  if (result.error) console.error(`${command}: ${result.error.message}`)
  return result.status === 0
}

/** Path of a script of an installed package. */
export function bin(path) {
  return join(root, 'node_modules', path)
}

function hashFiles(paths) {
  const hash = createHash('sha256')
  for (const path of paths) hash.update(path).update(readFileSync(join(root, path)))
  return hash.digest('hex')
}

function filesBelow(folder) {
  return readdirSync(join(root, folder), { withFileTypes: true }).flatMap((entry) => {
    const path = `${folder}/${entry.name}`
    return entry.isDirectory() ? filesBelow(path) : [path]
  })
}

function marked(name, hash) {
  const path = join(marks, name)
  return existsSync(path) && readFileSync(path, 'utf8') === hash
}

function mark(name, hash) {
  mkdirSync(marks, { recursive: true })
  writeFileSync(join(marks, name), hash)
}

/** Installs the packages when they are not those of the lock file. */
export function installPackages() {
  const hash = hashFiles(['package.json', 'package-lock.json'])
  if (marked('packages', hash)) return true
  // Not to the standard output, which belongs to what comes after.
  console.error('Installing packages…')
  const install = ['install', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error']
  if (spawnSync('npm', install, { cwd: root, stdio: ['ignore', 2, 2] }).status !== 0) return false
  mark('packages', hash)
  return true
}

/** Builds the application when its sources have changed. */
export function buildApp() {
  const sources = ['src', 'public'].flatMap(filesBelow).filter((path) => !path.endsWith('.test.ts'))
  const hash = hashFiles([...sources, 'index.html', 'vite.config.ts', 'package-lock.json'])
  if (existsSync(join(root, 'dist', 'index.html')) && marked('build', hash)) return true
  console.log('Building…')
  if (!run(process.execPath, [bin('vite/bin/vite.js'), 'build', '--logLevel', 'warn'])) return false
  mark('build', hash)
  return true
}

const CHROMIUM = '/usr/bin/chromium'

/** Installs Debian's Chromium, with its software renderer, when there is none. */
export function installChromium() {
  if (existsSync(process.env.CHROMIUM ?? CHROMIUM)) return true
  console.log('Installing Chromium…')
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo']
  const apt = (...args) => run([...asRoot, 'apt-get'][0], [...asRoot.slice(1), ...(asRoot.length ? ['apt-get'] : []), ...args])
  return apt('update', '-qq') && apt('install', '-y', '-qq', 'chromium', 'libgl1-mesa-dri', 'libegl1')
}

