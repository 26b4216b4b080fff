import { setWaterLevel, showWater } from '../../document/edits/ground.ts'
import { HEIGHT_ENDINGS } from '../../formats/endings.ts'
import { Action } from '../parts/actions.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'
import type { ChosenModels } from '../parts/files.ts'
import { chooseFiles } from '../parts/files.ts'
import { NumberField } from '../params/number-field.tsx'
import { showQuantity } from '../params/quantity.ts'
import { useField, useFieldState, useMeadow } from './field-context.ts'
import { ImagesSection } from './images-section.tsx'
import { shareBelow, underWords } from './under-water.ts'
import { MeshesSection } from './meshes-section.tsx'

interface GroundDrawerProps {
  readonly onImport: (file: File) => void
  readonly onMesh: (chosen: ChosenModels) => void
}

/** The ground with its water, the meshes that stand on it, the images laid over it. */
export function GroundDrawer({ onImport, onMesh }: GroundDrawerProps) {
  const { session } = useField()
  const { ground, water } = useMeadow()
  const under = useFieldState(({ facts }) => (facts ? Math.round(1000 * shareBelow(facts.heights, water.level)) / 1000 : null))
  const round = (v: number) => showQuantity(Number(v.toPrecision(5)), 'm')
  return (
    <>
      <div className="drawer-head">
        <h2>Ground</h2>
      </div>
      <dl className="facts">
        <dt>Name</dt>
        <dd>{ground.name}</dd>
        <dt>Size</dt>
        <dd>
          {round(ground.sizeX)} × {round(ground.sizeZ)}
        </dd>
        <dt>Heights</dt>
        <dd>
          {round(ground.lowest)} to {round(ground.highest)}
        </dd>
        <dt>Samples</dt>
        <dd>
          {ground.columns} × {ground.rows}
        </dd>
        {ground.source && (
          <>
            <dt>Source</dt>
            <dd>{ground.source}</dd>
          </>
        )}
      </dl>
      <Action onClick={() => void chooseFiles(HEIGHT_ENDINGS).then(([file]) => file && onImport(file))}>Bring in a height file</Action>
      <p className="faded">PNG (8 or 16 bit), GeoTIFF, ESRI ASCII grid or raw 16 bit; dropping it on the picture does the same.</p>
      <h3 className="category">Water</h3>
      <SwitchRow label="Show the water" on={water.shown} onChange={(shown) => showWater(session, shown)} />
      <div className="param">
        <span className="param-label" title="Heights above water count from here">
          Level
        </span>
        <NumberField
          label="Water level"
          value={water.level}
          unit="m"
          min={-12000}
          max={12000}
          step={0.1}
          onChange={(level, gesture) => level !== null && setWaterLevel(session, level, gesture)}
        />
      </div>
      {under !== null && <p className="faded">{underWords(under)}</p>}
      <MeshesSection onImport={onMesh} />
      <ImagesSection />
    </>
  )
}
