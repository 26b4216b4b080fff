import type { Shoot } from './thumbnails.ts'
import { createThumbnails } from './thumbnails.ts'

/** Draws when it is told to; keeps what was drawn, in its order, by the length of the bytes. */
function byHand(fails: (length: number) => boolean = () => false) {
  const drawn: number[] = []
  const held: (() => void)[] = []
  let opened = 0
  const shoot: Shoot = async ({ bytes, pose }) => {
    drawn.push(bytes.length)
    await new Promise<void>((resolve) => held.push(resolve))
    if (fails(bytes.length)) throw new Error('no model')
    return `${bytes.length} at ${pose.turn}`
  }
  const thumbnail = createThumbnails(() => {
    opened++
    return shoot
  })
  return {
    drawn,
    opened: () => opened,
    want: (length: number, turn?: number) => thumbnail(`model ${length}`, async () => new Uint8Array(length), turn),
    /** Lets what is being drawn end, and the next begin. */
    async next() {
      await settle()
      held.shift()?.()
      await settle()
    },
  }
}

const settle = () => new Promise((resolve) => setTimeout(resolve, 5))

test('the newest comes first, one at a time, what is left is not drawn, and nothing twice', async () => {
  const { want, next, drawn, opened } = byHand()
  expect(opened()).toBe(0)
  const first = want(1)
  const [second, third] = [want(2), want(3)]
  want(4).leave()
  await settle()
  expect(drawn).toEqual([1])
  await next()
  expect(await first.url).toBe('1 at 0.6')
  // The fourth is left; the third is the newest of those that wait.
  expect(drawn).toEqual([1, 3])
  // Wanted again while it waits: it comes before what was wanted meanwhile.
  want(5)
  want(2)
  await next()
  await next()
  expect(drawn).toEqual([1, 3, 2, 5])
  expect([await second.url, await third.url]).toEqual(['2 at 0.6', '3 at 0.6'])
  await next()
  expect(await want(1).url).toBe('1 at 0.6')
  expect(drawn).toHaveLength(4)
  expect(opened()).toBe(1)
})

test('another turn is another picture; two who want the same are one, until both have left', async () => {
  const { want, next, drawn } = byHand()
  const busy = want(9)
  const [one, two] = [want(1), want(1)]
  one.leave()
  one.leave()
  await next()
  expect(await busy.url).toBe('9 at 0.6')
  expect(drawn).toEqual([9, 1])
  const turned = want(1, 2.2)
  await next()
  expect(await two.url).toBe('1 at 0.6')
  await next()
  expect(await turned.url).toBe('1 at 2.2')
})

test('one that cannot be drawn says so, holds up no other, and is tried again when it is wanted again', async () => {
  let broken = true
  const { want, next, drawn } = byHand((length) => broken && length === 1)
  const failed = want(1)
  const sound = want(2)
  await next()
  await expect(failed.url).rejects.toThrow('no model')
  await next()
  expect(await sound.url).toBe('2 at 0.6')
  broken = false
  const again = want(1)
  await next()
  expect(await again.url).toBe('1 at 0.6')
  expect(drawn).toEqual([1, 2, 1])
})
