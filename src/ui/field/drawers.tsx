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

/** The pages of the guide about them. */
const GUIDES: Readonly<Record<Drawer, string>> = { plantings: 'sentence', ground: 'ground', outlines: 'outlines', beacons: 'drivers', nursery: 'nursery', views: 'keys' }

interface TabsProps {
  readonly drawer: Drawer | null
  readonly onDrawer: (drawer: Drawer | null) => void
}

/** The tabs of the left side; the one of the open drawer folds it. */
export function DrawerTabs({ drawer, onDrawer }: TabsProps) {
  return (
    <nav className="tabs" aria-label="Drawers">
      {(Object.keys(TITLES) as Drawer[]).map((name) => (
        <button key={name} type="button" data-guide={GUIDES[name]} aria-pressed={drawer === name} title={`${TITLES[name]} (${SHORTCUTS[name].keys})`} onClick={() => onDrawer(drawer === name ? null : name)}>
          {TITLES[name]}
        </button>
      ))}
    </nav>
  )
}

/** The drawer that is open. */
export function OpenDrawer({ drawer }: { readonly drawer: Drawer }) {
  const { tool } = useField()
  return (
    <aside className="drawer" aria-label={TITLES[drawer]} data-guide={GUIDES[drawer]}>
      {drawer === 'plantings' && <PlantingList />}
      {drawer === 'ground' && (
        <GroundDrawer onImport={(file) => tool.setState({ incoming: { as: 'ground', file } })} onMesh={(chosen) => tool.setState({ incoming: { as: 'mesh', ...chosen } })} />
      )}
      {drawer === 'outlines' && <OutlinesDrawer />}
      {drawer === 'beacons' && <BeaconsDrawer />}
      {drawer === 'nursery' && <Nursery onImport={(chosen) => tool.setState({ incoming: { as: 'model', ...chosen } })} />}
      {drawer === 'views' && <ViewsDrawer />}
    </aside>
  )
}
