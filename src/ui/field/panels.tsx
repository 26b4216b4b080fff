import type { ReactNode } from 'react'
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels'

interface PanelsProps {
  /** At the left; null when none is open. */
  readonly drawer: ReactNode
  /** At the right; null when none is open, or it is folded away. */
  readonly card: ReactNode
}

/** What lies over the picture at its two sides. Widths and heights are dragged at the inner edges, or moved by arrow keys there, and kept. */
export function Panels({ drawer, card }: PanelsProps) {
  const panelIds = [...(drawer ? ['drawer'] : []), 'picture', ...(card ? ['card'] : [])]
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({ id: 'field', panelIds, storage: localStorage, onlySaveAfterUserInteractions: true })
  return (
    <Group id="field-panels" className="panels" orientation="horizontal" defaultLayout={defaultLayout} onLayoutChanged={onLayoutChanged}>
      {drawer && (
        <Panel id="drawer" className="side" defaultSize="232px" minSize="190px" maxSize="45%" groupResizeBehavior="preserve-pixel-size">
          <Height id="drawer">{drawer}</Height>
        </Panel>
      )}
      {drawer && <Separator className="edge upright" aria-label="Width of the drawer" />}
      <Panel id="picture" />
      {card && <Separator className="edge upright" aria-label="Width of the card" />}
      {card && (
        <Panel id="card" className="side" defaultSize="258px" minSize="220px" maxSize="45%" groupResizeBehavior="preserve-pixel-size">
          <Height id="card">{card}</Height>
        </Panel>
      )}
    </Group>
  )
}

/** A panel that takes no more than its share of the height. */
function Height({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({ id: `field-${id}`, storage: localStorage, onlySaveAfterUserInteractions: true })
  return (
    <Group id={`${id}-height`} orientation="vertical" defaultLayout={defaultLayout} onLayoutChanged={onLayoutChanged}>
      <Panel id={`${id}-content`} className="side" defaultSize="57%" minSize="140px">
        {children}
      </Panel>
      <Separator className="edge level" aria-label={`Height of the ${id}`} />
      <Panel id={`${id}-below`} />
    </Group>
  )
}
