import { defineCondition, metres } from '../src/core/fields/conditions/define.ts'
import { hashValue } from '../src/core/content-hash.ts'
import { length, phrase, ref } from '../src/core/kinds.ts'
import { defineThing, meets, thingOf } from '../src/core/things/define.ts'
import { defineTool } from '../src/tools/define.ts'

/** A sort of thing and a tool that no part of the application knows of: lamps that light a circle of ground, and what sets them. */
interface Lamp {
  readonly id: string
  readonly name: string
  readonly x: number
  readonly z: number
  readonly radius: number
}

export const LAMP = defineThing<Lamp, Lamp>({
  kind: 'made-up-lamp',
  list: 'lamps',
  one: 'lamp',
  many: 'lamps',
  most: 10,
  fields: { x: { type: 'number', min: -1e4, max: 1e4 }, z: { type: 'number', min: -1e4, max: 1e4 }, radius: { type: 'size', max: 1000 } },
  references: [{ to: 'lamp', word: 'a lamp', is: () => true }],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (lamp) => ({ ...lamp, name: '' }),
  long: false,
  ready: (lamp) => lamp,
  near: (lamp, rect) => (meets(rect, lamp.radius, { x0: lamp.x, z0: lamp.z, x1: lamp.x, z1: lamp.z }) ? hashValue(lamp) : ''),
})

/** Takes only lit ground. */
export const lit = defineCondition({
  kind: 'made-up-lit',
  label: 'Lit',
  subject: 'things',
  help: 'Takes the ground that a lamp lights.',
  flat: true,
  params: { lamp: ref('lamp', { label: 'Lamp', help: 'Which lamp.' }) },
  sentence: () => phrase`in the light of ${{ param: 'lamp' }}`,
  reach: () => 0,
  prepare(p, { things }) {
    const lamp = thingOf(things, LAMP, p.lamp)
    if (!lamp) return () => undefined
    return ({ x, z, weight, count }) => {
      for (let i = 0; i < count; i++) if (Math.hypot(x[i] - lamp.x, z[i] - lamp.z) > lamp.radius) weight[i] = 0
    }
  },
  explain(p, { things }, { x, z }) {
    const lamp = thingOf(things, LAMP, p.lamp)
    return lamp ? `${metres(Math.hypot(x - lamp.x, z - lamp.z))} from the lamp` : 'no lamp is chosen'
  },
})

export const lampTool = defineTool({
  kind: 'made-up-lamp',
  label: 'Light',
  keys: 'Q',
  help: 'Set a lamp on the ground.',
  place: 9,
  drawing: 'M8 2 V14 M4 6 H12',
  cursor: 'copy',
  grips: false,
  cross: true,
  params: { radius: length(12, { label: 'Light as far as', help: 'Radius of its light.', min: 1, max: 500, step: 1 }) },
  sentence: () => phrase`a circle of ${{ param: 'radius' }} around the place that is clicked`,
  begin: ({ session, view }, values) => ({
    words: () => 'Click sets a lamp',
    click({ x, y }) {
      const on = view.pick(x, y)
      if (!on) return
      session.edit('Set a lamp', (draft) => {
        const { lamps } = draft as unknown as { lamps: Lamp[] }
        lamps.push({ id: `lamp-${lamps.length + 1}`, name: `Lamp ${lamps.length + 1}`, x: on.x, z: on.z, radius: values().radius })
      })
    },
  }),
})
