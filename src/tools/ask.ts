import { defineTool } from './define.ts'

export const ask = defineTool({
  kind: 'ask',
  label: 'Ask',
  keys: 'Y',
  help: 'Why here, why not here: what every condition of the open planting says to a place.',
  place: 6,
  drawing: 'M5.5 6 C5.5 2.5 10.8 2.5 10.8 6 C10.8 8.2 8 8.2 8 10.4 M8 12.6 V13.4',
  cursor: 'help',
  grips: false,
  cross: true,
  params: {},
  sentence: (_values, planting) => [`why ${planting ?? 'the open planting'} grows at a place or not: click on the ground`],
  begin({ view, state }) {
    if (!state.getState().open) return 'Open a planting first: the question is why it grows here or not.'
    return {
      words: () => 'Click on the ground to ask why the open planting grows there or not, or move the cross by the arrow keys and press Enter; Esc ends',
      click: ({ x, y }) => state.setState({ asking: view.sight(x, y) }),
      end: () => state.setState({ asking: null }),
    }
  },
})
