import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { placeImage, removeImage } from '../../document/edits/images.ts'
import { IMAGE_ENDINGS } from '../../formats/endings.ts'
import { IconAction } from '../parts/actions.tsx'
import { chooseFiles } from '../parts/files.ts'
import { NumberField } from '../params/number-field.tsx'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'
import { bringInImage } from './image-import.ts'

const NUMBERS = [
  { key: 'x', label: 'East of the middle', unit: 'm', min: -1e6, step: 1, max: 1e6 },
  { key: 'z', label: 'South of the middle', unit: 'm', min: -1e6, step: 1, max: 1e6 },
  { key: 'sizeX', label: 'Width', unit: 'm', min: 0.01, step: 1, max: 1e6 },
  { key: 'sizeZ', label: 'Depth', unit: 'm', min: 0.01, step: 1, max: 1e6 },
  { key: 'turn', label: 'Turned', unit: 'deg', min: -360, step: 1, max: 360 },
] as const

/** Pictures laid over the ground. */
export function ImagesSection() {
  const { session } = useField()
  const images = useFieldState((state) => state.history.meadow.images)
  const [open, setOpen] = useState<string | null>(null)
  return (
    <>
      <h3 className="category row">
        <span className="grow">Images</span>
        <IconAction label="Lay an image over the ground (PNG, JPEG)" onClick={() => void chooseFiles(IMAGE_ENDINGS).then(([file]) => file && bringInImage(session, file))}>
          <Plus />
        </IconAction>
      </h3>
      {images.length === 0 && <p className="faded">None yet: a picture whose brightness or colour says where things grow.</p>}
      <ul className="outlines" aria-label="Images">
        {images.map((image) => (
          <li key={image.id} className={open === image.id ? 'outline selected' : 'outline'}>
            <div className="card-head">
              <button type="button" className="card-name" aria-expanded={open === image.id} onClick={() => setOpen(open === image.id ? null : image.id)}>
                {image.name}
              </button>
              <IconAction label={`Remove ${image.name}`} onClick={() => tellRemoved(session, image.name, removeImage(session, image))}>
                <Trash2 />
              </IconAction>
            </div>
            {open === image.id && (
              <div className="outline-fields">
                <p className="faded">
                  {image.columns} × {image.rows} pixels
                </p>
                {NUMBERS.map(({ key, label, unit, min, max, step }) => (
                  <div className="param" key={key}>
                    <span className="param-label">{label}</span>
                    <NumberField label={`${label} of the image`} value={image[key]} unit={unit} min={min} max={max} step={step} onChange={(value, gesture) => value !== null && placeImage(session, image.id, { [key]: value }, gesture)} />
                  </div>
                ))}
              </div>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}
