import { siteVariables, VARIABLE_NAMES } from '../conditions/variables.ts'
import { formula as formulaParam, length, phrase } from '../../kinds.ts'
import { readFormula } from '../../math/formula.ts'
import { defineDriver, NO_FIELD } from './define.ts'

/** Fields that the ground alone decides. */

export const height = defineDriver({
  kind: 'height',
  label: 'Height',
  subject: 'ground',
  help: 'Height of the ground.',
  unit: 'm',
  params: {},
  over: { from: 0, to: 10 },
  words: () => ['the height'],
  prepare: (_p, context) => (sites, around, out) => siteVariables(context, 1, around).height(sites, out),
})

export const aboveWater = defineDriver({
  kind: 'above-water',
  label: 'Height above water',
  subject: 'water',
  help: 'Height over the water’s surface; below 0 under water.',
  unit: 'm',
  params: {},
  over: { from: 0, to: 3 },
  words: () => ['the height above the water'],
  prepare: (_p, context) => (sites, around, out) => siteVariables(context, 1, around).water(sites, out),
})

export const slope = defineDriver({
  kind: 'slope',
  label: 'Slope',
  subject: 'ground',
  help: 'Steepness of the ground.',
  unit: 'deg',
  params: {},
  over: { from: 0, to: 40 },
  flat: true,
  words: () => ['the slope'],
  prepare: (_p, context) => (sites, around, out) => siteVariables(context, 1, around).slope(sites, out),
})

export const fromWater = defineDriver({
  kind: 'from-water',
  label: 'Distance to water',
  subject: 'water',
  help: 'Distance to the shoreline; below 0 under water.',
  unit: 'm',
  params: {},
  over: { from: 0, to: 20 },
  words: () => ['the distance to the water'],
  prepare: (_p, context, farthest) => (sites, around, out) => siteVariables(context, 1, around, farthest).shore(sites, out),
})

export const patchiness = defineDriver({
  kind: 'patchiness',
  label: 'Patchiness',
  subject: 'pattern',
  help: 'Natural patches: 0 between them, 1 in their middle.',
  unit: 'share',
  params: { size: length(12, { label: 'Patch size', help: 'Typical width of a patch.', min: 0.1, max: 5000, step: 0.5 }) },
  over: { from: 0.25, to: 0.75 },
  flat: true,
  words: () => phrase`patches of ${{ param: 'size' }}`,
  prepare: (p, context) => (sites, around, out) => siteVariables(context, p.size, around).noise(sites, out),
})

export const formula = defineDriver({
  kind: 'formula',
  label: 'Formula',
  subject: 'pattern',
  help: 'Any number that a formula gives.',
  unit: 'index',
  params: {
    text: formulaParam('noise', { label: 'Formula', help: 'Of height, slope, water, shore, x, z, noise, dice, and of patterns index, count, along and angle.' }),
    size: length(20, { label: 'Noise size', help: 'Width of a patch of the variable noise.', min: 0.1, max: 5000, step: 0.5 }),
  },
  over: { from: 0, to: 1 },
  words: () => ['a formula'],
  problem(p) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    return 'problem' in read ? read.problem : null
  },
  prepare(p, context) {
    const read = readFormula(p.text, VARIABLE_NAMES)
    if ('problem' in read) return NO_FIELD
    return (sites, around, out) => read.formula.run(sites, siteVariables(context, p.size, around), out)
  },
})
