/** Top and bottom of a card as it lies in the list, px. */
export interface Extent {
  readonly top: number
  readonly height: number
}

/** Of a tall card no more than this has to be passed, px: an open one is many times as tall as the one that is dragged. */
const MOST_PASSED = 24

/**
 * The place at which a dragged card lands: it goes before a card above it once its top has passed the upper part of
 * that, and after a card below it once its bottom has passed the lower part.
 */
export function dropPlace(cards: readonly Extent[], from: number, dragged: Extent): number {
  const passed = ({ height }: Extent) => Math.min(height / 2, MOST_PASSED)
  const up = cards.findIndex((card, i) => i < from && dragged.top < card.top + passed(card))
  if (up >= 0) return up
  const bottom = dragged.top + dragged.height
  let down = from
  for (let i = from + 1; i < cards.length; i++) if (bottom > cards[i].top + cards[i].height - passed(cards[i])) down = i
  return down
}
