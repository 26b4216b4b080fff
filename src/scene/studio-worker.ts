import type { Studio } from './studio.ts'
import { createStudio, STUDIO_SIDE } from './studio.ts'
import type { Wish, Answer } from './studio-messages.ts'

interface WorkerScope {
  onmessage: ((event: MessageEvent<Wish>) => void) | null
  postMessage(message: Answer): void
}

const scope = self as unknown as WorkerScope
let own: { readonly canvas: OffscreenCanvas; readonly studio: Studio } | null = null

function open() {
  const canvas = new OffscreenCanvas(STUDIO_SIDE, STUDIO_SIDE)
  return { canvas, studio: createStudio(canvas) }
}

async function answer({ bytes, pose }: Wish): Promise<Answer> {
  try {
    if (!own || own.studio.isLost()) own = open()
  } catch {
    return { noGraphics: true }
  }
  try {
    await own.studio.shoot(bytes, pose)
    return { picture: await own.canvas.convertToBlob({ type: 'image/png' }) }
  } catch (error) {
    return { failed: error instanceof Error ? error.message : String(error) }
  }
}

scope.onmessage = ({ data }) => void answer(data).then((found) => scope.postMessage(found))
