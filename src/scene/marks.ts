import type { Asset } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import type { Ghost } from '../state/field-tool.ts'
import type { ChosenLayer, Marked, Moved } from './chosen-layer.ts'
import { GHOST, ghostBlock, rectAround } from './ghost.ts'
import type { InstancePicture } from './instance-picture.ts'

/** What is chosen, under the pointer or about to be placed, as the picture is told of it. */
export interface Marks {
  /** Marks what is chosen by dots (places x y z …, m), some of it by boxes too. */
  setMarks(places: Float32Array, boxed: readonly Marked[]): void
  /** Marks what is under the pointer. */
  setHovered(hovered: Marked | null): void
  /** Shows the marks of what is chosen moved, turned and sized about a place; null as they are. */
  moveMarks(by: Moved | null): void
  /** Shows things as they would stand if they were placed now, with their size boxes. */
  setGhost(ghost: readonly Ghost[]): void
}

interface MarksOptions {
  readonly chosen: ChosenLayer
  readonly instances: InstancePicture
  readonly assets: () => readonly Asset[]
  /** Something else is to be seen. */
  readonly onChange: () => void
}

/** Each telling of them asks for a frame. */
export function createMarks({ chosen, instances, assets, onChange }: MarksOptions): Marks {
  return {
    setMarks(places, boxed) {
      chosen.set(places, boxed)
      onChange()
    },
    setHovered(hovered) {
      chosen.setHovered(hovered)
      onChange()
    },
    moveMarks(by) {
      chosen.move(by)
      onChange()
    },
    setGhost(ghost) {
      const sizes = assetsByNumber(assets())
      // Boxes of a whole row would hide it.
      chosen.setGhost((ghost.length === 1 ? ghost : []).map(({ asset, stand }) => ({ ...stand, box: sizes.get(asset)?.size ?? [0.5, 0.5, 0.5] })))
      const block = ghostBlock(ghost)
      instances.setTile(GHOST, GHOST, block, rectAround(block))
      onChange()
    },
  }
}
