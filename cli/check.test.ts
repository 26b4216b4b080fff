import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeTiff } from '../src/testing/tiff.ts'

/** Runs the command as a person would; returns its lines and how it ended. */
function meadow(...given: string[]): { lines: Record<string, unknown>[]; status: number } {
  try {
    const out = execFileSync(process.execPath, ['--import', 'tsx', '--no-warnings', 'cli/main.ts', ...given], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })
    return { lines: linesOf(out), status: 0 }
  } catch (error) {
    const { stdout, status } = error as { stdout: string; status: number }
    return { lines: linesOf(stdout), status }
  }
}
const linesOf = (out: string) => out.trim().split('\n').filter(Boolean).map((line) => JSON.parse(line) as Record<string, unknown>)

describe('meadow check', () => {
  const folder = mkdtempSync(join(tmpdir(), 'check-'))
  const put = (name: string, bytes: string | Uint8Array) => {
    writeFileSync(join(folder, name), bytes)
    return join(folder, name)
  }

  it('tells what is in files of every kind, and refuses in the words of the page', () => {
    const files = [
      put('g.asc', 'ncols 3\nnrows 2\nxllcorner 100\nyllcorner 200\ncellsize 20\nNODATA_value -1\n1 2 -1 4 5 6\n'),
      put('t.tif', makeTiff(3, 2, [1, 2, 3, -9999, 5, 6])),
      put('box.obj', 'v 0 0 0\nv 1 0 0\nv 1 0 1\nv 0 0 1\nv 0 1 0\nv 1 1 0\nv 1 1 1\nv 0 1 1\nf 4 3 2 1\nf 5 6 7 8\nf 2 6 5 1\nf 3 7 6 2\nf 4 8 7 3\nf 1 5 8 4\n'),
      put('area.geojson', JSON.stringify({ type: 'Polygon', coordinates: [[[0, 0], [10, 0], [10, 8], [0, 8], [0, 0]], [[1, 1], [2, 1], [2, 2], [1, 2], [1, 1]]] })),
      put('broken.glb', 'glTF'),
    ]
    const { lines, status } = meadow('check', ...files)
    expect(status).toBe(1)
    expect(lines.map(({ file }) => file)).toEqual(files)
    const facts = lines.map((line) => line.facts)
    expect(facts[0]).toEqual({ columns: 3, rows: 2, cellX: 20, cellZ: 20, sizeX: 40, sizeZ: 20, lowest: 1, highest: 6, missing: 1, reference: { system: '', degrees: false, x: 130, y: 220 } })
    expect(facts[1]).toMatchObject({ columns: 3, rows: 2, cellX: 20, missing: 1, highest: 6 })
    expect(facts[2]).toMatchObject({ triangles: 12, size: [1, 1, 1], watertight: true })
    expect(facts[3]).toMatchObject({ lines: 0, rings: 2, area: 79, bounds: [0, 0, 10, 8] })
    expect(lines[4].refused).toContain('“broken.glb”')
  })

  it('ends well when all is well, and says how it is used when it is not understood', () => {
    expect(meadow('check', put('a.svg', '<svg><path d="M0 0L3 4"/></svg>'))).toMatchObject({ status: 0, lines: [{ reads: 'outlines', facts: { lines: 1, rings: 0 } }] })
    expect(meadow('grow')).toEqual({ lines: [], status: 2 })
  })
})
