import type { Range } from '@tanstack/react-virtual'
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual'
import type { ReactNode } from 'react'
import { memo, useLayoutEffect, useRef, useState } from 'react'

/** Entries that are drawn beyond each end of what is seen. */
const OVERSCAN = 12

/** What an entry of the list puts on its element. */
export interface Entry {
  readonly ref: (element: HTMLElement | null) => void
  readonly 'data-index': number
  readonly style: { readonly position: 'absolute'; readonly top: number; readonly left: 0; readonly right: 0 }
  readonly 'aria-setsize': number
  readonly 'aria-posinset': number
}

interface VirtualListProps {
  /** Names the entries, in their order. */
  readonly keys: readonly string[]
  /** About how tall an entry is, px; each is measured when it is drawn. */
  readonly estimate: number
  readonly label?: string
  readonly className?: string
  readonly role?: string
  readonly ordered?: boolean
  /** Entries that are drawn wherever they are: those that have the focus, or are dragged. */
  readonly keep?: readonly string[]
  /** Draws an entry; its element must take what it is given. Another function draws all entries anew. */
  readonly children: (key: string, place: number, entry: Entry) => ReactNode
}

interface RowProps {
  readonly id: string
  readonly place: number
  readonly top: number
  readonly of: number
  readonly measure: Entry['ref']
  readonly draw: VirtualListProps['children']
}

/** One entry; drawn anew when it lies elsewhere or is drawn otherwise, not at every scrolling. */
const Row = memo(function Row({ id, place, top, of, measure, draw }: RowProps) {
  return draw(id, place, {
    ref: measure,
    'data-index': place,
    style: { position: 'absolute', top, left: 0, right: 0 },
    'aria-setsize': of,
    'aria-posinset': place + 1,
  })
})

/** A list of which only what is seen is drawn, within what scrolls around it. */
export function VirtualList({ keys, estimate, label, className, role, ordered, keep = [], children }: VirtualListProps) {
  const list = useRef<HTMLElement>(null)
  const [scroller, setScroller] = useState<HTMLElement | null>(null)
  const [margin, setMargin] = useState(0)
  useLayoutEffect(() => {
    const own = list.current
    const around = own && scrollerOf(own)
    if (!own || !around) return
    const measure = () => setMargin(Math.round(own.getBoundingClientRect().top - around.getBoundingClientRect().top + around.scrollTop))
    setScroller(around)
    measure()
    // What stands above it in the same scroller comes and goes.
    const watch = new MutationObserver(measure)
    watch.observe(around, { childList: true })
    return () => watch.disconnect()
  }, [])
  const kept = keep.map((key) => keys.indexOf(key)).filter((place) => place >= 0)
  const rows = useVirtualizer({
    count: keys.length,
    getScrollElement: () => scroller,
    estimateSize: () => estimate,
    getItemKey: (place) => keys[place],
    overscan: OVERSCAN,
    scrollMargin: margin,
    rangeExtractor: (range: Range) => [...new Set([...defaultRangeExtractor(range), ...kept])].sort((a, b) => a - b),
  })
  const entries = rows
    .getVirtualItems()
    .map(({ index, start }) => <Row key={keys[index]} id={keys[index]} place={index} top={start - margin} of={keys.length} measure={rows.measureElement} draw={children} />)
  const rest = { className, role, 'aria-label': label, style: { height: rows.getTotalSize(), position: 'relative' as const } }
  return ordered ? (
    <ol ref={list as React.RefObject<HTMLOListElement>} {...rest}>
      {entries}
    </ol>
  ) : (
    <ul ref={list as React.RefObject<HTMLUListElement>} {...rest}>
      {entries}
    </ul>
  )
}

/** The nearest element around that scrolls. */
function scrollerOf(element: HTMLElement): HTMLElement | null {
  for (let around = element.parentElement; around; around = around.parentElement)
    if (/auto|scroll/.test(getComputedStyle(around).overflowY)) return around
  return null
}
