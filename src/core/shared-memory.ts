/**
 * Whether memory can be shared between the threads of this program: in a browser only where the page is
 * isolated from other origins, which the server's headers ask for.
 */
export const MEMORY_IS_SHARED = typeof SharedArrayBuffer === 'function' && (!('crossOriginIsolated' in globalThis) || globalThis.crossOriginIsolated)

/** Numbers in memory that threads share, where they can; elsewhere in plain memory. All 0 at first. */
export function sharedFloats(count: number): Float32Array {
  return new Float32Array(MEMORY_IS_SHARED ? new SharedArrayBuffer(4 * count) : new ArrayBuffer(4 * count))
}

/** Whether a column lies in memory that threads share, so that handing it over copies nothing. */
export function isShared({ buffer }: Float32Array): boolean {
  return MEMORY_IS_SHARED && buffer instanceof SharedArrayBuffer
}

/** The same numbers in memory that threads share, where they can. */
export function inSharedMemory(column: Float32Array): Float32Array {
  if (!MEMORY_IS_SHARED || isShared(column)) return column
  const shared = sharedFloats(column.length)
  shared.set(column)
  return shared
}
