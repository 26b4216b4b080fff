/**
 * Whether memory can be shared between the threads of this program: in a browser only where the page is
 * isolated from other origins, which the server's headers ask for.
 */
export const MEMORY_IS_SHARED = typeof SharedArrayBuffer === 'function' && (!('crossOriginIsolated' in globalThis) || globalThis.crossOriginIsolated)

/** Numbers in memory that threads share, where they can; elsewhere in plain memory. All 0 at first. */
export function sharedFloats(count: number): Float32Array {
  return new Float32Array(MEMORY_IS_SHARED ? new SharedArrayBuffer(4 * count) : new ArrayBuffer(4 * count))
}
