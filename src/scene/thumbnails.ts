import type { Answer, Wish } from './studio-messages.ts'
import type { Pose, Studio } from './studio.ts'

/** Draws a GLB small; the address of the picture. */
export type Shoot = (wish: Wish) => Promise<string>

/** Draws in a worker of its own, so that the page is never held up; null when the worker cannot be had, or has no graphics. */
function inWorker(): (wish: Wish) => Promise<string | null> {
  const worker = new Worker(new URL('./studio-worker.ts', import.meta.url), { type: 'module', name: 'small pictures' })
  return (wish) =>
    new Promise((resolve, reject) => {
      worker.onerror = () => resolve(null)
      worker.onmessage = ({ data }: MessageEvent<Answer>) => {
        if ('picture' in data) resolve(URL.createObjectURL(data.picture))
        else if ('failed' in data) reject(new Error(data.failed))
        else resolve(null)
      }
      worker.postMessage(wish)
    })
}

/** Draws in the page, where workers have no graphics. */
async function inPage(): Promise<Shoot> {
  const { createStudio } = await import('./studio.ts')
  let own: { readonly canvas: HTMLCanvasElement; readonly studio: Studio } | null = null
  return async ({ bytes, pose }) => {
    if (!own || own.studio.isLost()) {
      const canvas = document.createElement('canvas')
      own = { canvas, studio: createStudio(canvas) }
    }
    await own.studio.shoot(bytes, pose)
    return own.canvas.toDataURL('image/png')
  }
}

/** Draws in a worker as long as that has graphics, then in the page. */
function createShoot(): Shoot {
  let worker = typeof OffscreenCanvas === 'undefined' ? null : inWorker()
  let page: Promise<Shoot> | null = null
  return async (wish) => {
    const picture = worker && (await worker(wish))
    if (picture) return picture
    worker = null
    page ??= inPage()
    return (await page)(wish)
  }
}

/** A picture that is wanted: made once, for all who want it. */
interface Job {
  readonly key: string
  readonly read: () => Promise<Uint8Array<ArrayBuffer>>
  readonly pose: Pose
  readonly done: Promise<string>
  readonly settle: { readonly resolve: (url: string) => void; readonly reject: (error: unknown) => void }
  wanted: number
}

/** A small picture on its way; `leave` says that it is not wanted any more. */
export interface Thumbnail {
  readonly url: Promise<string>
  leave(): void
}

/** Makes small pictures one at a time, each once; the way to draw is looked for when the first is wanted. */
export function createThumbnails(open: () => Shoot) {
  /** The newest last: what is seen now comes before what was scrolled past. */
  const waiting: Job[] = []
  const jobs = new Map<string, Job>()
  let busy = false
  let shoot: Shoot | undefined

  async function work(): Promise<void> {
    if (busy) return
    busy = true
    for (let job = waiting.pop(); job; job = waiting.pop()) {
      // What nobody looks at any more is not made.
      if (job.wanted === 0) {
        jobs.delete(job.key)
        continue
      }
      try {
        const bytes = await job.read()
        shoot ??= open()
        job.settle.resolve(await shoot({ bytes, pose: job.pose }))
      } catch (error) {
        jobs.delete(job.key)
        job.settle.reject(error)
      }
    }
    busy = false
  }

  /** The address of a small picture of a GLB, made once per `name`; with a person beside it for scale when asked. */
  return function thumbnail(name: string, read: () => Promise<Uint8Array<ArrayBuffer>>, turn = 0.6, scale = false): Thumbnail {
    const key = `${name}/${turn.toFixed(2)}/${scale}`
    let job = jobs.get(key)
    if (!job) {
      let settle: Job['settle'] = { resolve: () => undefined, reject: () => undefined }
      const done = new Promise<string>((resolve, reject) => (settle = { resolve, reject }))
      done.catch(() => undefined)
      job = { key, read, pose: { turn, scale }, done, settle, wanted: 0 }
      jobs.set(key, job)
      waiting.push(job)
    } else if (waiting.includes(job)) {
      waiting.splice(waiting.indexOf(job), 1)
      waiting.push(job)
    }
    const own = job
    own.wanted++
    void work()
    let left = false
    return {
      url: own.done,
      leave() {
        if (!left) own.wanted--
        left = true
      },
    }
  }
}

/** Small pictures for all of the page. */
export const thumbnail = createThumbnails(createShoot)
