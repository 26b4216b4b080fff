import type { TerrainGround } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'

/** The named edits of ground and water. */

/** Puts another ground in place; water that would drown or miss it altogether is put away. */
export function setGround(editor: Editor, ground: TerrainGround): boolean {
  return editor.edit('Bring in a ground', (meadow) => {
    meadow.ground = ground
    if (meadow.water.level < ground.lowest || meadow.water.level > ground.highest) meadow.water = { shown: false, level: ground.lowest }
  })
}

export function showWater(editor: Editor, shown: boolean): void {
  editor.edit(shown ? 'Show the water' : 'Hide the water', ({ water }) => void (water.shown = shown))
}

export function setWaterLevel(editor: Editor, level: number, gesture?: string): void {
  editor.edit('Change the water level', ({ water }) => void (water.level = level), gesture)
}
