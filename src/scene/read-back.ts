/** Between one look whether the frame is drawn and the next, ms. */
const LOOK_AFTER = 25

/**
 * Copies the frame just drawn, as a picture of `width` × `height` px cut from its middle, without
 * holding up the page: the pixels are fetched when the graphics card says that they are ready.
 * To be called in the turn in which the frame was drawn. Null when the graphics are lost meanwhile.
 */
export async function readBack(gl: WebGL2RenderingContext, width: number, height: number): Promise<Blob | null> {
  const w = gl.drawingBufferWidth
  const h = gl.drawingBufferHeight
  const store = gl.createBuffer()
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, store)
  gl.bufferData(gl.PIXEL_PACK_BUFFER, 4 * w * h, gl.STREAM_READ)
  gl.readPixels(0, 0, w, h, gl.RGBA, gl.UNSIGNED_BYTE, 0)
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null)
  const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0)
  gl.flush()
  try {
    while (fence && gl.getSyncParameter(fence, gl.SYNC_STATUS) !== gl.SIGNALED) {
      if (gl.isContextLost()) return null
      await new Promise((resolve) => setTimeout(resolve, LOOK_AFTER))
    }
    const pixels = new Uint8ClampedArray(4 * w * h)
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, store)
    gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, pixels)
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null)
    const whole = document.createElement('canvas')
    whole.width = w
    whole.height = h
    whole.getContext('2d', { willReadFrequently: true })?.putImageData(new ImageData(pixels, w, h), 0, 0)
    const small = document.createElement('canvas')
    small.width = width
    small.height = height
    const pen = small.getContext('2d', { willReadFrequently: true })
    const scale = Math.max(width / w, height / h)
    if (pen) {
      pen.imageSmoothingQuality = 'high'
      // Rows come from the foot upwards.
      pen.setTransform(1, 0, 0, -1, 0, height)
      pen.drawImage(whole, (w - width / scale) / 2, (h - height / scale) / 2, width / scale, height / scale, 0, 0, width, height)
    }
    return await new Promise((resolve) => small.toBlob(resolve, 'image/jpeg', 0.85))
  } finally {
    gl.deleteSync(fence)
    gl.deleteBuffer(store)
  }
}
