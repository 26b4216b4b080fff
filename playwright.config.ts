import { defineConfig } from '@playwright/test'

const port = 4188

/** Debian's Chromium, drawing in software; SwiftShader where Mesa's driver is missing. */
const gl =
  process.env.MEADOW_GL === 'swiftshader'
    ? ['--use-angle=swiftshader', '--enable-unsafe-swiftshader']
    : ['--use-gl=angle', '--use-angle=gl-egl', '--ignore-gpu-blocklist']

export default defineConfig({
  testDir: 'e2e',
  timeout: 300_000,
  expect: { timeout: 40_000 },
  workers: 1,
  // What measures more than it tests: `npm run fuzz` runs it.
  ...(process.env.MEADOW_LONG ? { grep: /@long/ } : { grepInvert: /@long/ }),
  retries: 0,
  reporter: [['list'], ['json', { outputFile: '.cache/reports/playwright.json' }]],
  outputDir: 'test-results',
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // Half as many pixels each way, for all but what measures: the picture is drawn by the processor, and these tests are about what is done.
    deviceScaleFactor: process.env.MEADOW_LONG ? 1 : 0.5,
    locale: 'en-GB',
    acceptDownloads: true,
    // Tests of what works offline switch it on: others would load the whole application anew each.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        '--disable-quic',
        // Where the processor draws, panels are drawn and laid over the picture sooner straight away than by way of the
        // graphics, for so few pixels; at full size every frame is read back for it, which what measures would measure.
        ...(process.env.MEADOW_LONG ? [] : ['--disable-gpu-rasterization', '--disable-gpu-compositing', '--webgl-antialiasing-mode=none']),
        ...gl,
      ],
    },
  },
  webServer: {
    command: 'node --import tsx server/main.ts',
    url: `http://127.0.0.1:${port}`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
  },
})
