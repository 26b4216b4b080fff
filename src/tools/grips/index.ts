import { registry } from '../../core/kinds.ts'
import { beaconGrip } from './beacon.ts'
import { chosenGrip } from '../choose/handles.ts'
import { meshGrip } from './mesh.ts'
import { middleGrip, pointGrip } from './outline-point.ts'
import { strokeGrip } from './stroke.ts'

export const GRIPS = registry('grip', [
  beaconGrip,
  chosenGrip,
  meshGrip,
  middleGrip,
  pointGrip,
  strokeGrip,
])
