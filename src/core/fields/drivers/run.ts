import { inRun } from '../conditions/variables.ts'
import { defineDriver } from './define.ts'

/** Fields of members of a pattern: where each is in its row, ring or line. */

export const alongRun = defineDriver({
  kind: 'along-run',
  label: 'How far along its run',
  subject: 'run',
  help: 'Of what stands in a row, a ring or along a path: 0 at the first, 1 at the last. 0 of all else.',
  unit: 'share',
  params: {},
  over: { from: 0, to: 1 },
  flat: true,
  words: () => ['how far along its run each is'],
  prepare: () => (sites, around, out) => inRun(around.runs?.along)(sites, out),
})

export const numberInRun = defineDriver({
  kind: 'number-in-run',
  label: 'Number in its run',
  subject: 'run',
  help: 'Of what stands in a row, a ring or along a path: 0 is the first. 0 of all else.',
  unit: 'count',
  params: {},
  over: { from: 0, to: 10 },
  flat: true,
  words: () => ['the number of each in its run'],
  prepare: () => (sites, around, out) => inRun(around.runs?.index)(sites, out),
})

export const roundRing = defineDriver({
  kind: 'round-ring',
  label: 'Angle round its ring',
  subject: 'run',
  help: 'Of what stands in a ring: 0° to the north of its middle, 90° to the east. 0° of all else.',
  unit: 'deg',
  params: {},
  over: { from: 0, to: 360 },
  flat: true,
  words: () => ['the angle of each round its ring'],
  prepare: () => (sites, around, out) => inRun(around.runs?.angle)(sites, out),
})
