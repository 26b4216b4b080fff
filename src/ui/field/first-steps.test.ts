import { newMeadow } from '../../document/new-planting.ts'
import { startHistory } from '../../document/history.ts'
import type { FieldState } from '../../state/field-state.ts'
import { createFieldTool } from '../../state/field-tool.ts'
import { spreadOf } from '../../testing/fields.ts'
import type { Seen } from './first-steps.ts'
import { doneSteps, FIRST_STEPS, nextStep } from './first-steps.ts'

function seen(rest: { plantings?: number; open?: string | null; past?: string[]; asking?: boolean } = {}): Seen {
  const { plantings = 0, open = null, past = [], asking = false } = rest
  const meadow = { ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 80 }), plantings: Array.from({ length: plantings }, (_, i) => spreadOf({}, { id: `p${i}` })) }
  const history = { ...startHistory(meadow), past: past.map((name) => ({ name })) } as unknown as FieldState['history']
  return {
    field: { history } as FieldState,
    tool: { ...createFieldTool().getState(), open, asking: asking ? { origin: [0, 0, 0], direction: [0, -1, 0], reach: 1 } : null },
  }
}

describe('the first steps', () => {
  it('lead from an empty meadow to the question why', () => {
    let done: ReadonlySet<string> = new Set()
    const shown: (string | undefined)[] = []
    for (const now of [
      seen(),
      seen({ plantings: 1 }),
      seen({ plantings: 1, open: 'p0' }),
      seen({ plantings: 1, open: 'p0', past: ['Add a planting', 'Change spacing'] }),
      seen({ plantings: 1, open: 'p0', past: ['Throw again'] }),
      seen({ plantings: 1, open: 'p0', past: ['Add a condition'] }),
      seen({ plantings: 1, open: 'p0', asking: true }),
    ]) {
      done = doneSteps(now, done)
      shown.push(nextStep(now, done)?.key)
    }
    expect(shown).toEqual(['plant', 'open', 'change', 'throw', 'where', 'ask', undefined])
  })

  it('take what is done in another order, and lead back to what a step needs', () => {
    const now = seen({ plantings: 2, past: ['Throw again'] })
    const done = doneSteps(now, new Set(['open']))
    expect([...done].sort()).toEqual(['open', 'plant', 'throw'])
    // Nothing is open any more: to change something, a planting has to be opened again.
    expect(nextStep(now, done)?.key).toBe('open')
    expect(nextStep(seen({ plantings: 2, open: 'p1' }), done)?.key).toBe('change')
  })

  it('stay done', () => {
    const all = new Set(FIRST_STEPS.map(({ key }) => key))
    expect(nextStep(seen(), all)).toBeNull()
    expect(doneSteps(seen(), all)).toBe(all)
  })
})
