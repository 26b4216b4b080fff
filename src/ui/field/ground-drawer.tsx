import { Switch } from '@chakra-ui/react'
import { setWaterLevel, showWater } from '../../document/edits/ground.ts'
import { HEIGHT_ENDINGS } from '../../formats/endings.ts'
import { Action } from '../parts/actions.tsx'
import { chooseFiles } from '../parts/files.ts'
import { NumberField } from '../params/number-field.tsx'
import { showQuantity } from '../params/quantity.ts'
import { useField, useMeadow } from './field-context.ts'
import { ImagesSection } from './images-section.tsx'
import { MeshesSection } from './meshes-section.tsx'

interface GroundDrawerProps {
  readonly onImport: (file: File) => void
  readonly onMesh: (file: File, beside: readonly File[]) => void
}

/** The ground with its water, the meshes that stand on it, the images laid over it. */
export function GroundDrawer({ onImport, onMesh }: GroundDrawerProps) {
  const { session } = useField()
  const { ground, water } = useMeadow()
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
      <div className="param">
        <span className="param-label">Shown</span>
        <Switch.Root
          size="sm"
          checked={water.shown}
          onCheckedChange={({ checked }) => showWater(session, checked)}
        >
          <Switch.HiddenInput aria-label="Show the water" />
          <Switch.Control>
            <Switch.Thumb />
          </Switch.Control>
        </Switch.Root>
      </div>
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
      <MeshesSection onImport={onMesh} />
      <ImagesSection />
    </>
  )
}
