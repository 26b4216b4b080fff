/** File endings by what they hold; apart from the readers, so that pages can ask without loading them. */
export const HEIGHT_ENDINGS: readonly string[] = ['.asc', '.grd', '.txt', '.png']
export const OUTLINE_ENDINGS: readonly string[] = ['.geojson', '.json', '.svg']
export const MODEL_ENDINGS: readonly string[] = ['.glb', '.gltf']

/** Whether a file name has one of the endings. */
export function hasEnding(name: string, endings: readonly string[]): boolean {
  const lower = name.toLowerCase()
  return endings.some((ending) => lower.endsWith(ending))
}
