import { blockOf } from '../core/columns.ts'
import { createInstanceTiles } from './instances.ts'

const rect = { x0: 0, z0: 0, x1: 1, z1: 1 }
const turn = () => new Promise<void>((resolve) => setTimeout(resolve, 1))

/** A listener that knows what there is by what it is told. */
function listening(instances: ReturnType<typeof createInstanceTiles>) {
  const there = new Map<string, number>()
  let told = 0
  const stop = instances.listen((planting, tile, block) => {
    told++
    if (block) there.set(`${planting}/${tile}`, block.count)
    else there.delete(`${planting}/${tile}`)
  })
  return { there, told: () => told, stop }
}

describe('the tiles that are shown', () => {
  it('are told one by one, and all of them to whoever comes later', () => {
    const instances = createInstanceTiles()
    const first = listening(instances)
    instances.set('p', 'a', blockOf(3), rect)
    instances.set('p', 'b', blockOf(4), rect)
    instances.set('p', 'a', null, rect)
    expect([...first.there]).toEqual([['p/b', 4]])
    expect(first.told()).toBe(3)
    const later = listening(instances)
    expect([...later.there]).toEqual([['p/b', 4]])
    instances.drop('p')
    expect([first.there.size, later.there.size]).toEqual([0, 0])
  })

  it('that come together are held back until all are there; who comes meanwhile is told all of them once', async () => {
    const instances = createInstanceTiles()
    instances.set('p', 'old', blockOf(1), rect)
    const first = listening(instances)
    let later: ReturnType<typeof listening> | null = null
    let gone: ReturnType<typeof listening> | null = null
    const together = instances.together(async () => {
      for (let k = 0; k < 50; k++) instances.set('p', `t${k}`, blockOf(k), rect)
      await turn()
      later = listening(instances)
      gone = listening(instances)
      gone.stop()
      expect(first.told()).toBe(1)
    })
    await turn()
    await together
    expect(first.there.size).toBe(51)
    expect(first.told()).toBe(51)
    expect(later!.there).toEqual(first.there)
    expect(later!.told()).toBe(51)
    expect(gone!.told()).toBe(0)
    instances.set('p', 'new', blockOf(9), rect)
    expect([first.there.get('p/new'), later!.there.get('p/new')]).toEqual([9, 9])
  })

  it('are told even when what brings them fails', async () => {
    const instances = createInstanceTiles()
    const first = listening(instances)
    await expect(
      instances.together(async () => {
        instances.set('p', 'a', blockOf(2), rect)
        throw new Error('torn')
      }),
    ).rejects.toThrow('torn')
    expect([...first.there]).toEqual([['p/a', 2]])
  })
})
