import { createTerrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { newMeadow } from '../document/new-planting.ts'
import type { Pool } from '../runner/pool.ts'
import { imageOf, meshOf } from '../testing/fields.ts'
import { terrainName } from './setup.ts'
import { createShares } from './shares.ts'

const start: Meadow = {
  ...newMeadow('Test', 'g'.repeat(64), { samples: 3, size: 40 }),
  images: [{ ...imageOf(2, 2, () => [0, 0, 0, 0]).placed, id: 'i', blob: 'picture' }],
  meshes: [meshOf({ id: 'a', shape: 'hull', blob: 'never' }), meshOf({ id: 'b', shape: 'hull', blob: 'never' })],
}

function bench() {
  const said: string[] = []
  const read: string[] = []
  const pool = { share: ({ name }) => void said.push(`+${name}`), forget: (name) => void said.push(`-${name}`) } as Pick<Pool, 'share' | 'forget'> as Pool
  const shares = createShares(pool, {
    terrainOf: async ({ ground }) => createTerrain(new Float32Array(9), 3, 3, ground.sizeX, ground.sizeZ),
    async blob(hash) {
      if (hash === 'gone') throw new Error('it is gone')
      read.push(hash)
      return new Uint8Array(4)
    },
  })
  return { said, read, shares }
}

describe('the parts of a meadow in workers’ hands', () => {
  it('go once each: the ground, pictures and shapes, not what growing never looks into', async () => {
    const { said, read, shares } = bench()
    expect((await shares.with(start))?.sizeX).toBe(40)
    expect(said).toEqual([`+${terrainName(start)}`, '+picture', '+hull'])
    expect(await shares.with({ ...start, name: 'Renamed' })).toBeNull()
    expect(said.length).toBe(3)
    expect(read).toEqual(['picture', 'hull'])
  })

  it('what is not needed any more is taken back when it is said, not before: something may be under way with it', async () => {
    const { said, shares } = bench()
    await shares.with(start)
    const wider = { ...start, ground: { ...start.ground, sizeX: 80 }, images: [] }
    await shares.with(wider)
    expect(said.slice(3)).toEqual([`+${terrainName(wider)}`])
    shares.forgetOld()
    expect(said.slice(4).sort()).toEqual([`-${terrainName(start)}`, '-picture'].sort())
    shares.forgetOld()
    expect(said.length).toBe(6)
  })

  it('what comes back before it was taken back stays', async () => {
    const { said, shares } = bench()
    await shares.with(start)
    await shares.with({ ...start, images: [] })
    await shares.with(start)
    shares.forgetOld()
    expect(said.filter((one) => one.startsWith('-'))).toEqual([])
    shares.release()
    expect(said.filter((one) => one.startsWith('-')).sort()).toEqual([`-${terrainName(start)}`, '-hull', '-picture'].sort())
  })

  it('a part that is missing is said, and is asked for again the next time', async () => {
    const { said, shares } = bench()
    const lacking = { ...start, images: [{ ...start.images[0], blob: 'gone' }] }
    await expect(shares.with(lacking)).rejects.toThrow('it is gone')
    await shares.with(start)
    expect(said).toContain('+hull')
  })
})
