import { SVGPathData, SVGPathDataTransformer } from 'svg-pathdata'
import { isClosed, polylines } from '../core/outlines/outline.ts'
import { LIMITS, shortened } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import type { OutlineFormat, ReadOutline } from './outline-format.ts'

/** Farthest that a curve's points stray from it, m. */
const FLATNESS = 0.01
const MOST_PIECES = 64

/**
 * Paths, polygons and polylines of an SVG drawing: one unit is a metre, x to the east, y to the south
 * of the middle of the ground. Closed shapes become patches, open ones paths. The text is searched,
 * never run or put into a page.
 */
export const svgOutlines: OutlineFormat = {
  kind: 'svg',
  label: 'SVG paths',
  extensions: ['.svg'],
  mime: 'image/svg+xml',
  read(text, name) {
    const elements = elementsOf(text)
    if (!elements.some(({ element }) => element === 'svg')) throw new ProblemError(`“${name}” is no SVG drawing: it has no <svg> in it.`)
    if (elements.some(({ rest }) => /\stransform\s*=/.test(rest)))
      throw new ProblemError(`“${name}” moves its shapes by transforms, which are not read; apply them in the drawing program and save it again.`)
    const outlines: ReadOutline[] = []
    for (const { element, rest } of elements) {
      if (element !== 'path' && element !== 'polygon' && element !== 'polyline') continue
      const attributes = attributesOf(rest)
      const label = shortened(attributes.get('id') ?? '', LIMITS.name)
      const own = label ? { name: label } : {}
      if (element === 'path') outlines.push(...fromPath(attributes.get('d') ?? '', own, name))
      else {
        const line = numbersOf(attributes.get('points') ?? '')
        if (line.length % 2 !== 0) throw new ProblemError(`“${name}” has a ${element} with an odd count of coordinates.`)
        const closed = element === 'polygon'
        if (line.length > 0) outlines.push({ kind: closed ? 'patch' : 'path', lines: [line], ...own })
      }
    }
    return { outlines, coordinates: { of: 'middle' }, notes: [] }
  },
  write(outlines, { sizeX, sizeZ }) {
    const shapes = outlines.map((outline) => {
      const closed = isClosed(outline)
      const d = polylines(outline)
        .map((line) => 'M' + Array.from({ length: line.length / 2 }, (_, i) => `${round(line[2 * i])},${round(line[2 * i + 1])}`).join('L') + (closed ? 'Z' : ''))
        .join('')
      return `  <path id="${escapeXml(outline.name)}" d="${d}" fill="none" fill-rule="evenodd" stroke="${outline.colour}" stroke-width="${outline.kind === 'path' && outline.width > 0 ? outline.width : 0.5}"/>`
    })
    return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${-sizeX / 2} ${-sizeZ / 2} ${sizeX} ${sizeZ}">\n${shapes.join('\n')}\n</svg>\n`
  },
}

interface Element {
  /** Its name in small letters, without a prefix. */
  readonly element: string
  readonly rest: string
}

/** All opening tags outside comments and other things that begin with `<!` or `<?`, in one pass over the text. */
function elementsOf(text: string): Element[] {
  const found: Element[] = []
  for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at)) {
    const [close, length] = text.startsWith('<!--', at) ? ['-->', 3] : text.startsWith('<![CDATA[', at) ? [']]>', 3] : ['>', 1]
    const end = text.indexOf(close, at)
    if (end < 0) return found
    if (close === '>' && /[a-z]/i.test(text[at + 1] ?? '')) {
      let from = at + 1
      while (from < end && /[\w:.-]/.test(text[from])) from++
      const full = text.slice(at + 1, from).toLowerCase()
      found.push({ element: full.slice(full.indexOf(':') + 1), rest: text.slice(from, end) })
    }
    at = end + length
  }
  return found
}

/** The attributes of a tag; its text is walked once, whatever stands in it. */
function attributesOf(text: string): Map<string, string> {
  const found = new Map<string, string>()
  for (let at = text.indexOf('='); at >= 0; at = text.indexOf('=', at + 1)) {
    let quote = at + 1
    while (quote < text.length && text.charCodeAt(quote) <= 32) quote++
    const mark = text[quote]
    if (mark !== '"' && mark !== "'") continue
    let to = at
    while (to > 0 && text.charCodeAt(to - 1) <= 32) to--
    let from = to
    while (from > 0 && to - from < 64 && /[\w:-]/.test(text[from - 1])) from--
    const end = text.indexOf(mark, quote + 1)
    if (end < 0) return found
    if (from < to) found.set(text.slice(from, to), unescapeXml(text.slice(quote + 1, end)))
    at = end
  }
  return found
}

function numbersOf(text: string): number[] {
  return (text.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? []).map(Number)
}

/** Closed subpaths of one path are one patch (even–odd), open ones a path each. */
function fromPath(d: string, own: { name?: string }, file: string): ReadOutline[] {
  let commands
  try {
    commands = new SVGPathData(d).toAbs().normalizeHVZ(false).normalizeST().transform(SVGPathDataTransformer.QT_TO_C()).aToC().commands
  } catch (error) {
    throw new ProblemError(`“${file}” has a path${own.name ? ` (“${own.name}”)` : ''} that cannot be read; save it again from its drawing program.`, error)
  }
  const closed: number[][] = []
  const open: number[][] = []
  let line: number[] = []
  const end = (into: number[][]) => {
    if (line.length >= 4) into.push(line)
    line = []
  }
  for (const command of commands) {
    if (command.type === SVGPathData.MOVE_TO) {
      end(open)
      line = [command.x, command.y]
    } else if (command.type === SVGPathData.LINE_TO) line.push(command.x, command.y)
    else if (command.type === SVGPathData.CURVE_TO) {
      const [x, y] = line.slice(-2)
      curve(line, [x, y, command.x1, command.y1, command.x2, command.y2, command.x, command.y])
    } else if (command.type === SVGPathData.CLOSE_PATH) {
      const start = line.slice(0, 2)
      if (line.length > 4 && line.at(-2) === start[0] && line.at(-1) === start[1]) line.length -= 2
      end(closed)
      // What follows without a move starts where the closed piece did.
      line = start
    }
  }
  end(open)
  return [
    ...(closed.length > 0 ? [{ kind: 'patch' as const, lines: closed, ...own }] : []),
    ...open.map((one) => ({ kind: 'path' as const, lines: [one], ...own })),
  ]
}

/** Adds the points of a cubic Bézier curve after its start. */
function curve(line: number[], b: readonly number[]): void {
  const bend = Math.max(Math.hypot(b[0] - 2 * b[2] + b[4], b[1] - 2 * b[3] + b[5]), Math.hypot(b[2] - 2 * b[4] + b[6], b[3] - 2 * b[5] + b[7]))
  const pieces = Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / FLATNESS))))
  for (let k = 1; k <= pieces; k++) {
    const t = k / pieces
    const s = 1 - t
    for (let c = 0; c < 2; c++)
      line.push(s * s * s * b[c] + 3 * s * s * t * b[2 + c] + 3 * s * t * t * b[4 + c] + t * t * t * b[6 + c])
  }
}

function round(metres: number): number {
  return Math.round(metres * 1000) / 1000
}

function escapeXml(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')
}

function unescapeXml(text: string): string {
  return text.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&apos;', "'").replaceAll('&amp;', '&')
}
