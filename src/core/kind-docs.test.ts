import { readFileSync } from 'node:fs'
import { CONDITIONS } from './fields/conditions/index.ts'
import { DRIVERS } from './fields/drivers/index.ts'
import { conditionsDoc } from './kind-docs.ts'

describe('the documentation of kinds', () => {
  const doc = conditionsDoc(CONDITIONS.all, DRIVERS.all)

  it('is the one in docs; if not, run npm run docs', () => {
    expect(readFileSync('docs/conditions.md', 'utf8')).toBe(doc)
  })

  it('tells of every condition, every driver and each of their parameters', () => {
    for (const { label, help, params } of CONDITIONS.all) {
      expect(doc).toContain(`### ${label}\n`)
      expect(doc).toContain(help)
      for (const param of Object.values(params)) expect(doc).toContain(`| ${param.label} |`)
    }
    for (const { label, params } of DRIVERS.all) {
      expect(doc).toContain(`### By ${label.toLowerCase()}\n`)
      for (const param of Object.values(params)) expect(doc).toContain(`| ${param.label} |`)
    }
    expect(doc).not.toMatch(/undefined|NaN|\[object/)
  })
})
