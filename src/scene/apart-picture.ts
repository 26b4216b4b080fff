import type { Block } from '../core/columns.ts'
import { groundOfTile } from '../core/grow.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { HeightAt, Rect, Terrain } from '../core/grounds/terrain.ts'
import { heightOf } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import type { LeavesByNumber } from '../core/posy/apart.ts'
import { leavesByNumber, takenApart } from '../core/posy/apart.ts'
import { GHOST } from './ghost.ts'
import type { InstancePicture } from './instance-picture.ts'

/** The picture of instances in which posies are taken apart into their models. */
export interface ApartPicture extends InstancePicture {
  /** Takes over what posies are made of, and which one is open: in its place its parts are seen. */
  setPosies(meadow: Pick<Meadow, 'assets' | 'opened'>, terrain: Terrain): void
}

interface Told {
  readonly planting: string
  readonly tile: string
  readonly block: Block
  readonly rect: Rect
}

export function createApartPicture(picture: InstancePicture): ApartPicture {
  const told = new Map<string, Told>()
  let posies: LeavesByNumber = new Map()
  let opened: Meadow['opened'] = null
  let heightAt: HeightAt = () => 0

  function show({ planting, tile, block, rect }: Told): void {
    const instead = opened?.instead
    const leftOut = instead?.planting === planting ? (low: number, high: number) => low === instead.low && high === instead.high : undefined
    picture.setTile(planting, tile, posies.size > 0 ? takenApart(block, posies, { leftOut, heightAt: planting === GHOST || groundOfTile(tile) === TERRAIN_ID ? heightAt : null }) : block, rect)
  }

  return {
    ...picture,
    setTile(planting, tile, block, rect) {
      const key = `${planting}/${tile}`
      if (!block) {
        told.delete(key)
        picture.setTile(planting, tile, null, rect)
        return
      }
      const one = { planting, tile, block, rect }
      told.set(key, one)
      show(one)
    },
    setPosies({ assets, opened: next }, terrain) {
      heightAt = heightOf(terrain)
      const [before, after] = [posies, leavesByNumber(assets)]
      if (before === after && opened === next) return
      const other = new Set([...before, ...after].filter(([number]) => before.get(number) !== after.get(number)).map(([number]) => number))
      const places = [opened, next].map((one) => one?.instead?.planting)
      const reopened = opened?.instead !== next?.instead
      posies = after
      opened = next
      if (other.size === 0 && !reopened) return
      for (const one of told.values()) if ((reopened && places.includes(one.planting)) || one.block.asset.some((number) => other.has(number))) show(one)
    },
    dispose() {
      told.clear()
      picture.dispose()
    },
  }
}
