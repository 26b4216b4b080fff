import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { SnapWish } from '../core/grounds/snap.ts'
import type { Meadow } from '../core/meadow.ts'
import type { Seen } from '../core/plantings/ask.ts'
import type { Desk, Pointer } from './define.ts'

/** The terrain and all meshes that are seen. */
export function groundsSeen({ meshes }: Pick<Meadow, 'meshes'>): string[] {
  return [TERRAIN_ID, ...meshes.filter(({ visible }) => visible).map(({ id }) => id)]
}

/** Finds what lies under places of the picture: on the terrain at once, on meshes by asking a worker. */
export interface Eyes {
  /** What is seen at each place, of these grounds; null where none is. With `snap`, a corner, edge or face of a mesh that is near it. */
  see(places: readonly Pointer[], grounds: readonly string[], snap?: SnapWish): readonly (Seen | null)[] | Promise<readonly (Seen | null)[]>
  /** Tells what is seen at a place, soon: of many places asked about in a hurry, only the newest. */
  look(place: Pointer, grounds: readonly string[], tell: (seen: Seen | null) => void, snap?: SnapWish): void
}

export function createEyes({ session, view }: Pick<Desk, 'session' | 'view'>): Eyes {
  let waiting: (() => void) | null = null
  let busy = false

  function see(places: readonly Pointer[], grounds: readonly string[], snap?: SnapWish): readonly (Seen | null)[] | Promise<readonly (Seen | null)[]> {
    if (grounds.every((id) => id === TERRAIN_ID))
      return places.map(({ x, y }) => {
        const on = grounds.length > 0 ? view.pick(x, y) : null
        return on && { ground: TERRAIN_ID, place: { x: on.x, y: on.y, z: on.z, normal: null } }
      })
    return session.see(places.map(({ x, y }) => view.sight(x, y)), grounds, snap)
  }

  function look(place: Pointer, grounds: readonly string[], tell: (seen: Seen | null) => void, snap?: SnapWish): void {
    const found = see([place], grounds, snap)
    if (!(found instanceof Promise)) return tell(found[0])
    busy = true
    void found
      .then(([seen]) => tell(seen))
      // Called off or broken, it is asked again by the next move.
      .catch(() => tell(null))
      .finally(() => {
        busy = false
        const next = waiting
        waiting = null
        next?.()
      })
  }

  return {
    see,
    look(place, grounds, tell, snap) {
      if (busy) waiting = () => look(place, grounds, tell, snap)
      else look(place, grounds, tell, snap)
    },
  }
}
