import { addBeacon } from '../../document/edits/beacons.ts'
import { keepView } from '../../document/edits/views.ts'
import { BESIDE_ENDINGS, IMAGE_ENDINGS, MODEL_ENDINGS } from '../../formats/endings.ts'
import { tellTaken } from '../../state/tell-taken.ts'
import { startDrawing } from '../../tools/draw.ts'
import { chooseFiles, chooseModels } from '../parts/files.ts'
import type { FieldContextValue } from './field-context.ts'
import { bringInImage } from './image-import.ts'

/** A way to make a thing of a sort that conditions and drivers can name. */
export interface Maker {
  /** What it says on the button. */
  readonly label: string
  make(field: FieldContextValue): void
}

/** Sets a beacon in the middle of the picture. */
export function setBeaconHere({ session, landscape, tool }: FieldContextValue): void {
  const [x, , z] = landscape?.view().target ?? [0, 0, 0]
  const id = addBeacon(session, Math.round(x * 10) / 10, Math.round(z * 10) / 10)
  tool.setState({ beacon: id })
  tellTaken(session, session.meadow().beacons.find((one) => one.id === id))
}

/** Keeps the view that is seen. */
export function keepThisView({ session, landscape }: FieldContextValue): void {
  if (!landscape) return
  keepView(session, landscape.view())
  tellTaken(session, session.meadow().views.at(-1))
}

/** By what parameters refer to; what is not here is made elsewhere. */
const MAKERS: Readonly<Record<string, Maker | undefined>> = {
  path: { label: 'Draw a path', make: ({ tool }) => startDrawing(tool, 'path') },
  patch: { label: 'Draw a patch', make: ({ tool }) => startDrawing(tool, 'patch') },
  beacon: { label: 'Set a beacon', make: setBeaconHere },
  view: { label: 'Keep this view', make: keepThisView },
  image: { label: 'Bring in an image', make: ({ session }) => void chooseFiles(IMAGE_ENDINGS).then(([file]) => file && bringInImage(session, file)) },
  mesh: {
    label: 'Bring in a mesh',
    make: ({ tool }) => void chooseModels(MODEL_ENDINGS, BESIDE_ENDINGS).then((chosen) => chosen && tool.setState({ incoming: { as: 'mesh', ...chosen } })),
  },
}

export function makerOf(to: string): Maker | undefined {
  return MAKERS[to]
}
