import { POINT } from '../../core/fields/coverage.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { NewStroke } from '../../document/edits/strokes.ts'
import { addStrokes, drawOn } from '../../document/edits/strokes.ts'
import { newGesture } from '../../document/history.ts'
import type { FieldSession } from '../../state/field-session.ts'

/** One pass of the brush, from the press until it is let go: strokes of one or many plantings that are drawn on together, one step of undo. */
export interface Pass {
  /** Draws on to a place; plantings that are met on the way get the whole line. */
  to(seen: Seen, pressure: number, plantings: readonly string[]): void
  /** Draws the line through these places instead, from where the pass was begun. */
  through(places: readonly Seen[], pressure: number, plantings: readonly string[]): void
  /** Writes what is not written yet; whether anything was painted. */
  end(): boolean
  /** Takes the whole pass back. */
  giveUp(): void
}

/** How the brush is set while a pass is drawn. */
export type Setting = Pick<NewStroke, 'act' | 'width' | 'soft' | 'strength' | 'only'>

/** Places nearer together than this share of the radius are passed over. */
const SPACING = 0.12
/** Places that stray less than this share of the radius from a straight line are left out. */
const STRAY = 0.03
/** What is drawn is written so often at most, ms. */
const WRITE_AFTER = 40

/** What of a pass lies on one ground. */
interface Run {
  readonly ground: string
  readonly points: number[]
  /** Strokes by their plantings. */
  readonly strokes: Map<string, string>
  /** Numbers that are written and stay. */
  written: number
  /** Whether there is more to be written. */
  more: boolean
}

export function startPass(session: Pick<FieldSession, 'meadow' | 'edit' | 'undo'>, setting: Setting, now: () => number): Pass {
  const gesture = newGesture()
  const radius = 0.5 * setting.width
  const ids: string[] = []
  let run: Run | null = null
  let plantings: readonly string[] = []
  let wrote = -Infinity
  /** Something was refused, or a step of undo has taken the strokes: nothing more is painted. */
  let over = false

  function write(): void {
    if (!run || over || run.points.length === 0) return
    const { ground, points, strokes, written, more } = run
    if (strokes.size > 0 && more) {
      // The last point that was written may have been moved on.
      const from = Math.max(0, Math.min(written, points.length) - POINT)
      const drawn = stand(session, strokes.values()) && drawOn(session, [...strokes.values()], from / POINT, points.slice(from), gesture)
      if (!drawn) over = true
    }
    const fresh = plantings.filter((id) => !strokes.has(id))
    if (fresh.length > 0 && !over) {
      const made = addStrokes(session, fresh.map((planting): NewStroke => ({ ...setting, planting, ground, points })), gesture)
      if (made.length === 0) over = true
      made.forEach((id, k) => strokes.set(fresh[k], id))
      ids.push(...made)
    }
    run.written = points.length
    run.more = false
    wrote = now()
  }

  function on(ground: string): Run {
    if (run?.ground !== ground) {
      write()
      run = { ground, points: [], strokes: new Map(), written: 0, more: false }
    }
    return run
  }

  return {
    to(seen, pressure, met) {
      const own = on(seen.ground)
      const { points, strokes } = own
      if (put(points, seen, pressure, radius)) own.more = true
      plantings = met
      if (met.some((id) => !strokes.has(id)) || now() - wrote >= WRITE_AFTER) write()
    },
    through(places, pressure, met) {
      const [first] = places
      if (!first) return
      const own = on(first.ground)
      own.points.length = 0
      for (const seen of places) if (seen.ground === first.ground) put(own.points, seen, pressure, radius)
      own.written = Math.min(own.written, POINT)
      own.more = true
      plantings = met
      write()
    },
    end() {
      write()
      return ids.length > 0
    },
    giveUp() {
      if (ids.length > 0 && stand(session, ids)) session.undo()
      over = true
    },
  }
}

function stand({ meadow }: Pick<FieldSession, 'meadow'>, ids: Iterable<string>): boolean {
  const { strokes } = meadow()
  // Those of a pass are the last.
  for (const id of ids) if (strokes.findLast((one) => one.id === id) === undefined) return false
  return true
}

/** Puts a place at the end of a line, and tells whether it has; one near the last is passed over, and a last one that lies straight between is moved on. */
function put(points: number[], { place: { x, y, z, normal } }: Seen, pressure: number, radius: number): boolean {
  const next = [x, y, z, ...(normal ?? [0, 1, 0]), pressure]
  const n = points.length
  const away = (k: number) => Math.hypot(x - points[k], y - points[k + 1], z - points[k + 2])
  if (n >= POINT && away(n - POINT) < SPACING * radius) return false
  if (n >= 2 * POINT && strays(points, n - 2 * POINT, next) < STRAY) points.length = n - POINT
  points.push(...next)
  return true
}

/** How far the last point strays from the straight way between the one before it and the next, as a share of its length. */
function strays(points: readonly number[], from: number, next: readonly number[]): number {
  let [along, squared] = [0, 0]
  const last = from + POINT
  for (const c of [0, 1, 2]) {
    along += (points[last + c] - points[from + c]) * (next[c] - points[from + c])
    squared += (next[c] - points[from + c]) ** 2
  }
  const t = squared > 0 ? along / squared : 0
  let off = 0
  for (const c of [0, 1, 2]) off += (points[from + c] + t * (next[c] - points[from + c]) - points[last + c]) ** 2
  const bent = [3, 4, 5].reduce((sum, c) => sum + (points[from + c] + t * (next[c] - points[from + c]) - points[last + c]) ** 2, 0)
  const harder = points[from + 6] + t * (next[6] - points[from + 6]) - points[last + 6]
  return Math.max(Math.sqrt(off / (squared || 1)), Math.sqrt(bent) / 4, Math.abs(harder))
}
