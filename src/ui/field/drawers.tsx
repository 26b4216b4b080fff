import { SHORTCUTS } from '../shortcuts.ts'
import { BeaconsDrawer } from './beacons-drawer.tsx'
import { useField } from './field-context.ts'
import { GroundDrawer } from './ground-drawer.tsx'
import { Nursery } from './nursery.tsx'
import { OutlinesDrawer } from './outlines-drawer.tsx'
import { PlantingList } from './planting-list.tsx'
import { ViewsDrawer } from './views-drawer.tsx'

export type Drawer = 'plantings' | 'ground' | 'outlines' | 'beacons' | 'nursery' | 'views'

const TITLES: Readonly<Record<Drawer, string>> = {
  plantings: 'Plantings',
  ground: 'Ground',
  outlines: 'Outlines',
  beacons: 'Beacons',
  nursery: 'Nursery',
  views: 'Views',
}

interface DrawersProps {
  readonly drawer: Drawer | null
  readonly onDrawer: (drawer: Drawer | null) => void
}

/** The drawers of the left side, one of them open. */
export function Drawers({ drawer, onDrawer }: DrawersProps) {
  const { tool } = useField()
  return (
    <>
      <nav className="tabs" aria-label="Drawers">
        {(Object.keys(TITLES) as Drawer[]).map((name) => (
          <button key={name} type="button" aria-pressed={drawer === name} title={`${TITLES[name]} (${SHORTCUTS[name].keys})`} onClick={() => onDrawer(drawer === name ? null : name)}>
            {TITLES[name]}
          </button>
        ))}
      </nav>
      {drawer && (
        <aside className="drawer" aria-label={TITLES[drawer]}>
          {drawer === 'plantings' && <PlantingList />}
          {drawer === 'ground' && (
            <GroundDrawer onImport={(file) => tool.setState({ incoming: { as: 'ground', file } })} onMesh={(file, beside) => tool.setState({ incoming: { as: 'mesh', file, beside } })} />
          )}
          {drawer === 'outlines' && <OutlinesDrawer />}
          {drawer === 'beacons' && <BeaconsDrawer />}
          {drawer === 'nursery' && <Nursery onImport={(file, beside) => tool.setState({ incoming: { as: 'model', file, beside } })} />}
          {drawer === 'views' && <ViewsDrawer />}
        </aside>
      )}
    </>
  )
}
