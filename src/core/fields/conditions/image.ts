import { imageValuesIn, sampleImage } from '../../grounds/image.ts'
import { choice, ref, share, span } from '../../kinds.ts'
import { thingOf } from '../../things/define.ts'
import { IMAGE } from '../../things/image.ts'
import { boundWithin } from '../bounds.ts'
import { bounded, defineCondition, ends, within } from './define.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const image = defineCondition({
  kind: 'image',
  label: 'Image',
  subject: 'pattern',
  help: 'Takes the ground where a picture laid over it is bright, or has much of one colour.',
  flat: true,
  params: {
    image: ref('image', { label: 'Image', help: 'Which picture; drop a PNG or JPEG on the page to bring one in.' }),
    channel: choice(
      'brightness',
      [
        { value: 'brightness', label: 'brightness' },
        { value: 'red', label: 'red' },
        { value: 'green', label: 'green' },
        { value: 'blue', label: 'blue' },
        { value: 'alpha', label: 'opacity' },
      ],
      { label: 'Looks at', help: 'What of the picture counts.' },
    ),
    value: span('share', 0.5, null, {
      label: 'Value',
      help: 'Least and most that is taken; 0 % is black, 100 % full.',
      max: 1,
      step: 0.01,
      open: true,
    }),
    soft: share(0.5, { label: 'Soft edge', help: 'Over how much of the value it thins out towards each end.' }),
    outside: choice(
      'refuse',
      [
        { value: 'refuse', label: 'refused' },
        { value: 'take', label: 'taken' },
      ],
      { label: 'Beyond the picture', help: 'What happens where the picture does not lie.' },
    ),
  },
  sentence: () => ['where ', { param: 'image' }, ' has ', { param: 'channel' }, ' ', { param: 'value' }],
  prepare(p, { things }) {
    const found = thingOf(things, IMAGE, p.image)
    if (!found) return () => undefined
    const { from, to } = ends(p.value)
    const outside = p.outside === 'take' ? 1 : 0
    return bounded(
      ({ x, z, weight, count }) => {
        const work = columnOf(count)
        sampleImage(found, p.channel, x, z, count, -1, work)
        for (let i = 0; i < count; i++) weight[i] *= work[i] < 0 ? outside : within(work[i], from, to, p.soft)
      },
      (block) => {
        const { values, beyond } = imageValuesIn(found, p.channel, block)
        const around = { low: outside, high: outside }
        if (!values) return around
        const inside = boundWithin(values, from, to, p.soft)
        return beyond ? { low: Math.min(inside.low, outside), high: Math.max(inside.high, outside) } : inside
      },
    )
  },
  explain(p, { things }, { x, z }) {
    const found = thingOf(things, IMAGE, p.image)
    if (!found) return 'no image is chosen'
    const value = new Float64Array(1)
    sampleImage(found, p.channel, Float64Array.of(x), Float64Array.of(z), 1, -1, value)
    return value[0] < 0 ? `beyond “${found.placed.name}”` : `${p.channel === 'alpha' ? 'opacity' : p.channel} ${Math.round(100 * value[0])} % in “${found.placed.name}”`
  },
})
