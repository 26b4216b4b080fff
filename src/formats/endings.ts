/** File endings by what they hold; apart from the readers, so that pages can ask without loading them. */
export const HEIGHT_ENDINGS: readonly string[] = ['.asc', '.grd', '.txt', '.png', '.tif', '.tiff', '.r16', '.raw']
export const OUTLINE_ENDINGS: readonly string[] = ['.geojson', '.json', '.svg']
/** Files that hold a mesh and nothing else. */
export const MESH_ENDINGS: readonly string[] = ['.obj', '.ply', '.stl']
export const MODEL_ENDINGS: readonly string[] = ['.glb', '.gltf', ...MESH_ENDINGS]
/** What may be chosen with an OBJ. */
export const BESIDE_ENDINGS: readonly string[] = ['.mtl', '.png', '.jpg', '.jpeg']
export const IMAGE_ENDINGS: readonly string[] = ['.png', '.jpg', '.jpeg']

/** Whether a file name has one of the endings. */
export function hasEnding(name: string, endings: readonly string[]): boolean {
  const lower = name.toLowerCase()
  return endings.some((ending) => lower.endsWith(ending))
}
