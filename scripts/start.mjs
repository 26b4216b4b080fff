// npm start: installs what is missing, builds, and serves the application.
import { bin, buildApp, installPackages, run } from './prepare.mjs'

if (!installPackages() || !buildApp()) process.exit(1)
run(process.execPath, ['--import', `file://${bin('tsx/dist/esm/index.mjs')}`, 'server/main.ts'])
