import { createSites } from '../../columns.ts'
import { siteVariables, VARIABLE_NAMES, variablesIn } from './variables.ts'
import { landHeights } from '../../grounds/terrain.ts'
import { formula as formulaParam, length } from '../../kinds.ts'
import { readFormula } from '../../math/formula.ts'
import { saturate } from '../../math/portable.ts'
import type { ConditionContext } from './define.ts'
import { bounded, defineCondition, fixed } from './define.ts'
import { NOTHING_AROUND } from '../../surroundings.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const formula = defineCondition({
  kind: 'formula',
  label: 'Formula',
  subject: 'pattern',
  help: 'Takes the ground by a formula of your own: 0 refuses, 1 takes, between thins out.',
  dear: true,
  params: {
    text: formulaParam('slope < 20 && noise > 0.5', { label: 'Formula', help: 'Of height, slope, water, shore, x, z, noise, dice, and of patterns index, count, along and angle.' }),
    size: length(20, { label: 'Noise size', help: 'Width of a patch of the variable noise.', min: 0.1, max: 5000, step: 0.5 }),
  },
  sentence: () => ['where ', { param: 'text' }],
  problem(p) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    return 'problem' in read ? read.problem : null
  },
  prepare(p, context) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    if ('problem' in read) return () => undefined
    return bounded(
      (sites, around) => {
        const work = columnOf(sites.count)
        read.formula.run(sites, siteVariables(context, p.size, around), work)
        // What is no number takes nothing.
        for (let i = 0; i < sites.count; i++) sites.weight[i] *= work[i] === work[i] ? saturate(work[i]) : 0
      },
      (block) => {
        const { low, high, sure } = read.formula.range(variablesIn(block, read.formula.uses, context))
        return { low: sure ? saturate(low) : 0, high: saturate(high) }
      },
    )
  },
  warning(p, context) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    if ('problem' in read) return null
    const sites = lattice(context)
    const values = new Float64Array(sites.count)
    read.formula.run(sites, siteVariables(context, p.size, NOTHING_AROUND), values)
    const without = values.filter((value) => !Number.isFinite(value)).length
    return without === 0
      ? null
      : `The formula “${p.text.slice(0, 60)}” gives no number on ${Math.max(1, Math.round((100 * without) / sites.count))} % of the ground, as it divides by zero or takes the root of less; guard it, for example with max(a, 0.01).`
  },
  explain(p, context, { x, y, z }) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    if ('problem' in read) return read.problem
    const site = createSites(1)
    site.count = 1
    site.x[0] = x
    site.y[0] = y
    site.z[0] = z
    const variables = siteVariables(context, p.size, NOTHING_AROUND)
    const value = new Float64Array(1)
    read.formula.run(site, variables, value)
    const parts = read.formula.uses.map((name) => {
      const part = new Float64Array(1)
      variables[name as keyof typeof variables](site, part)
      return `${name} ${fixed(part[0], 2)}`
    })
    return `${Number.isFinite(value[0]) ? fixed(value[0], 2) : 'no number'}${parts.length > 0 ? `, with ${parts.join(', ')}` : ''}`
  },
})

const SIDE = 64

/** Places all over the ground, and its middle, where formulas of x and z like to go wrong. */
function lattice({ terrain }: ConditionContext) {
  const sites = createSites(SIDE * SIDE)
  sites.count = SIDE * SIDE
  for (let i = 0; i < sites.count; i++) {
    sites.x[i] = terrain.bounds.x0 + ((i % SIDE) / SIDE) * terrain.sizeX
    sites.z[i] = terrain.bounds.z0 + (Math.floor(i / SIDE) / SIDE) * terrain.sizeZ
  }
  landHeights(terrain, sites)
  return sites
}
