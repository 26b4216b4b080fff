import { heightAt } from '../../core/grounds/terrain.ts'
import { LIMITS, shortened } from '../../core/limits.ts'
import type { Asset, PlacedMesh } from '../../core/meadow.ts'
import { newId } from '../../document/new-planting.ts'
import type { ReadAssetOutput } from '../../runner/io-refs.ts'
import type { Landscape } from '../../scene/landscape.ts'
import type { FieldSession } from '../../state/field-session.ts'

/** The category of what has been given none. */
export const BROUGHT_IN = 'Brought in'

/** What is said of a model beside its form, within the limits of the document. */
interface Details {
  readonly name: string
  readonly category: string
  readonly tags: readonly string[]
  readonly licence: string
}

/** A first name for what a file holds, short enough to be kept; never empty. */
export function nameOfFile(fileName: string): string {
  return shortened(fileName.replace(/\.[^.]+$/, ''), LIMITS.name) || 'Unnamed'
}

/** Files chosen with a model, read whole. */
export async function besideOf(files: readonly File[]): Promise<{ readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }[]> {
  return Promise.all(files.map(async (one) => ({ name: one.name, bytes: new Uint8Array(await one.arrayBuffer()) })))
}

/** Keeps a model that was read in the store; returns the asset that it makes. */
export async function assetOf(session: FieldSession, read: ReadAssetOutput, { name, category, tags, licence }: Details): Promise<Omit<Asset, 'number'>> {
  const { glb: blob, standIns } = read.hashes
  await session.putBlob(blob, read.glb)
  for (const [k, form] of read.standIns.entries()) await session.putBlob(standIns[k], form.glb)
  return {
    id: newId(),
    name,
    category: category || BROUGHT_IN,
    tags: [...tags],
    licence,
    parts: [],
    drapes: false,
    blob,
    standIns: [...standIns],
    size: [...read.measures.size],
    base: [...read.measures.base],
    room: read.measures.room,
    triangles: [read.triangles, ...read.standIns.map((form) => form.triangles)],
  }
}

/** Keeps a model that was read in the store; returns the mesh that it makes in the middle of the picture, on the terrain. */
export async function meshOf(session: FieldSession, landscape: Landscape | null, read: ReadAssetOutput, name: string, role: PlacedMesh['role']): Promise<PlacedMesh> {
  const { glb: blob, shape } = read.hashes
  await session.putBlob(blob, read.glb)
  await session.putBlob(shape, read.shape)
  const [x, , z] = landscape?.view().target ?? [0, 0, 0]
  const round = (value: number) => Math.round(value * 100) / 100
  return {
    id: newId(),
    name,
    role,
    blob,
    shape,
    triangles: read.shapeTriangles,
    visible: true,
    locked: false,
    position: [round(x), round(heightAt(session.store.getState().terrain, x, z)), round(z)],
    turn: [0, 0, 0],
    size: 1,
  }
}
