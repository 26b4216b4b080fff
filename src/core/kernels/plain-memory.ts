const PAGE = 65536

function viewsOf(buffer: ArrayBuffer) {
  return { buffer, floats: new Float32Array(buffer), whole: new Int32Array(buffer), doubles: new Float64Array(buffer) }
}

let views = viewsOf(new ArrayBuffer(PAGE))

/** The memory of the plain kernels, as WebAssembly's would be, with views of it; growing it takes the old views' memory away. */
export const plainMemory = {
  get buffer() {
    return views.buffer
  },
  get floats() {
    return views.floats
  },
  get whole() {
    return views.whole
  },
  get doubles() {
    return views.doubles
  },
  /** Grows by so many pages of 64 KB; returns how many there were. */
  grow(pages: number): number {
    const before = views.buffer
    views = viewsOf(new ArrayBuffer(before.byteLength + pages * PAGE))
    new Uint8Array(views.buffer).set(new Uint8Array(before))
    return before.byteLength / PAGE
  },
}
