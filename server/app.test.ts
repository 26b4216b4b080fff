import { mkdtempSync, mkdirSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import { createApp } from './app.ts'

const folder = mkdtempSync(join(tmpdir(), 'meadow-'))
mkdirSync(join(folder, 'assets'))
writeFileSync(join(folder, 'index.html'), '<title>Wayward Meadow</title>')
writeFileSync(join(folder, 'assets', 'a.js'), '1')
const app = createApp(folder)

describe('the server', () => {
  it('serves the page at every address of the application', async () => {
    for (const path of ['/', '/field/some-id', '/field/some-id/handoff', '/guide']) {
      const answer = await request(app).get(path)
      expect(answer.status).toBe(200)
      expect(answer.text).toContain('Wayward Meadow')
    }
  })

  it('lets nothing be evaluated, framed or loaded from elsewhere', async () => {
    const policy = (await request(app).get('/')).headers['content-security-policy']
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'")
    expect(policy).not.toContain("'unsafe-eval'")
    expect(policy).toContain("frame-ancestors 'none'")
  })

  it('isolates the pages and what they load, so that they may share memory with their workers', async () => {
    for (const path of ['/', '/assets/a.js']) {
      const { headers } = await request(app).get(path)
      expect(headers['cross-origin-opener-policy']).toBe('same-origin')
      expect(headers['cross-origin-embedder-policy']).toBe('require-corp')
    }
  })

  it('answers other addresses and other ways of asking with a sentence', async () => {
    expect((await request(app).get('/nowhere')).status).toBe(404)
    expect((await request(app).get('/assets/none.js')).status).toBe(404)
    expect((await request(app).get('/assets/..%2f..%2fpackage.json')).status).toBeGreaterThanOrEqual(400)
    expect((await request(app).post('/')).status).toBe(405)
  })
})
