/** All shortcuts in one place: what they do, for the hints, the guide and the listener alike. */
export const SHORTCUTS = {
  undo: { keys: 'Ctrl+Z', does: 'Undo the last change' },
  redo: { keys: 'Ctrl+Shift+Z', does: 'Redo it' },
  plantings: { keys: 'P', does: 'Open or fold the plantings' },
  ground: { keys: 'G', does: 'Open or fold the ground' },
  nursery: { keys: 'N', does: 'Open or fold the nursery' },
  outlines: { keys: 'L', does: 'Open or fold the outlines' },
  drawPatch: { keys: 'D', does: 'Draw a patch' },
  drawPath: { keys: 'Shift+D', does: 'Draw a path' },
  beacons: { keys: 'B', does: 'Open or fold the beacons' },
  views: { keys: 'V', does: 'Open or fold the views' },
  card: { keys: 'F', does: 'Fold the open card away, or bring it back' },
  clear: { keys: 'C', does: 'Fold everything away, or bring it back' },
  add: { keys: 'A', does: 'Add a planting' },
  throwAgain: { keys: 'T', does: 'Throw the open planting again' },
  tint: { keys: 'I', does: 'Show the open planting’s habitat as colour on the ground' },
  snap: { keys: 'J', does: 'Set things to corners, faces, pegs and the grid, or no longer' },
  person: { keys: 'U', does: 'Stand a person of 1.75 m under the pointer for scale, or take them away' },
  whole: { keys: 'W', does: 'Show the whole meadow' },
  handoff: { keys: 'O', does: 'Hand off' },
} as const

export type ShortcutName = keyof typeof SHORTCUTS

/** Keys that the picture takes while it has the focus. */
export const PICTURE_KEYS = [
  { keys: 'Arrows', does: 'Move over the ground' },
  { keys: 'Shift+Arrows', does: 'Turn and tip the eye' },
  { keys: '+ and −', does: 'Nearer and further' },
] as const

/** What takes letters for itself; sliders, ticks and choices do not. */
const TYPED_INTO = 'input:not([type="range"], [type="checkbox"], [type="radio"]), textarea, [contenteditable], [role="dialog"]:not([data-state="closed"])'
/** What finds its entries by letters; a menu that closes still has the focus for a while. */
const FOUND_BY_LETTERS = 'select, [role="menu"]:not([data-state="closed"])'

/** The shortcut that a key press means; none while something is being typed. */
export function shortcutOf(event: KeyboardEvent): ShortcutName | null {
  const pressed = pressedKeys(event)
  const found = Object.entries(SHORTCUTS).find(([, { keys }]) => keys.toUpperCase() === pressed)
  return found ? (found[0] as ShortcutName) : null
}

/** The tool that a key press takes up. */
export function toolOfKey<T extends { readonly keys: string }>(event: KeyboardEvent, tools: readonly T[]): T | undefined {
  const pressed = pressedKeys(event)
  return tools.find(({ keys }) => keys.toUpperCase() === pressed)
}

/** A key press as shortcuts are written, in capitals; null while something is being typed. */
function pressedKeys(event: KeyboardEvent): string | null {
  const target = event.target as HTMLElement | null
  if (target?.closest(TYPED_INTO)) return null
  const command = event.ctrlKey || event.metaKey
  if (!command && target?.closest(FOUND_BY_LETTERS)) return null
  const pressed = [command ? 'Ctrl' : '', event.shiftKey && (command || event.key.length === 1 && /[a-z]/i.test(event.key)) ? 'Shift' : '', event.key.toUpperCase()]
    .filter(Boolean)
    .join('+')
    .toUpperCase()
  if (event.altKey) return null
  return pressed
}
