import { angle, flag, length, share } from '../../core/kinds.ts'
import type { ValuesOf } from '../../core/kinds.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { valuesOfTool } from '../define.ts'

/** What things are set to while they are placed and moved; kept beside the settings of tools. */
export const SNAP_PARAMS = {
  on: flag(false, { label: 'Set to what is near', help: 'Things are set to corners, edges, faces, pegs, other things and the grid; Ctrl holds it off.' }),
  corners: flag(true, { label: 'Corners', help: 'Corners of meshes.' }),
  edges: flag(true, { label: 'Middles of edges', help: 'Middles of straight edges of meshes.' }),
  faces: flag(true, { label: 'Centres of faces', help: 'Centres of flat faces of meshes.' }),
  things: flag(false, { label: 'Other things', help: 'Where other things stand, and the corners of the boxes around them.' }),
  pegs: flag(true, { label: 'Pegs', help: 'Helper points that were set by hand.' }),
  grid: length(0, { label: 'Grid', help: 'Spacing of a grid over the terrain; 0 is none.', max: 1000, step: 0.25 }),
  gridEast: length(0, { label: 'Grid begins, east', help: 'Where a line of the grid runs, east of the middle of the ground.', min: -10000, max: 10000, step: 0.1 }),
  gridSouth: length(0, { label: 'Grid begins, south', help: 'Where a line of the grid runs, south of the middle of the ground.', min: -10000, max: 10000, step: 0.1 }),
  turn: angle(15, { label: 'Turned by steps of', help: 'Turns come in whole steps; 0° is none.', max: 180, step: 5 }),
  size: share(0.1, { label: 'Sized by steps of', help: 'Sizes come in whole steps; 0 % is none.', max: 1, step: 0.05 }),
}

export type SnapValues = ValuesOf<typeof SNAP_PARAMS>

/** What settings of snapping are kept under. */
export const SNAP = { kind: 'snap', params: SNAP_PARAMS }

/** The settings of snapping as they are now. */
export function snapValues(state: FieldTool): SnapValues {
  return valuesOfTool(SNAP, state) as SnapValues
}

/** A value in whole steps, where things are set to steps; a step of 0 leaves it. */
export function stepped(value: number, step: number): number {
  return step > 0 ? Math.round(value / step) * step : value
}
