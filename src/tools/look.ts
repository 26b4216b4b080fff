import type { FieldToolState } from '../state/field-tool.ts'
import { countChosen, NOTHING_CHOSEN } from '../state/chosen.ts'
import { defineTool } from './define.ts'

/** What can be held while looking around, the newest kind of hold first: each is let go by one step back. */
const HELD: readonly { readonly held: (state: FieldToolState) => unknown; readonly letGo: Partial<FieldToolState> }[] = [
  { held: ({ tint }) => tint, letGo: { tint: null } },
  { held: ({ chosen }) => (countChosen(chosen) > 0 ? 'chosen' : null), letGo: { chosen: NOTHING_CHOSEN } },
  { held: ({ stroke }) => stroke, letGo: { stroke: null } },
  { held: ({ mesh }) => mesh, letGo: { mesh: null } },
  { held: ({ beacon }) => beacon, letGo: { beacon: null } },
  { held: ({ selected }) => selected, letGo: { selected: null, point: null } },
  { held: ({ open }) => open, letGo: { open: null } },
]

const POINTS = 'Drag a point to move it, click between two to add one, Delete takes the chosen one out, Esc ends'

export const look = defineTool({
  kind: 'look',
  label: 'Look',
  keys: 'K',
  help: 'Turn the picture, move over the ground, take hold of points, beacons and meshes.',
  place: 0,
  drawing: 'M1 8 C4 3.5 12 3.5 15 8 C12 12.5 4 12.5 1 8Z M8 5.8 A2.2 2.2 0 1 0 8 10.2 A2.2 2.2 0 1 0 8 5.8',
  cursor: '',
  grips: true,
  cross: false,
  params: {},
  sentence: () => ['around: drag to turn, right drag to move, wheel to come nearer, double click to fly there'],
  begin: ({ view, state }) => ({
    words: () => (state.getState().selected ? POINTS : null),
    double: ({ x, y }) => view.flyToPoint(x, y),
    escape() {
      const now = state.getState()
      const found = HELD.find(({ held }) => held(now))
      if (found) state.setState(found.letGo)
      return true
    },
  }),
})
