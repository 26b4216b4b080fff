import { ProblemError } from '../document/problem.ts'

/** What three's and glTF-Transform's readers call a decoder module of Draco. */
export type DracoDecoder = Readonly<Record<string, unknown>>

let decoder: Promise<DracoDecoder> | null = null

/** The decoder of Draco-compressed meshes, loaded when a model first wants it. */
export function dracoDecoder(): Promise<DracoDecoder> {
  decoder ??= load()
  return decoder
}

async function load(): Promise<DracoDecoder> {
  const { default: createDecoder } = await import('draco3dgltf/draco_decoder_gltf_nodejs.js')
  const url = new URL('../../node_modules/draco3dgltf/draco_decoder_gltf.wasm', import.meta.url)
  return createDecoder({ wasmBinary: url.protocol === 'file:' ? await fromDisk(url) : await fromServer(url) })
}

async function fromServer(url: URL): Promise<ArrayBuffer> {
  const response = await fetch(url)
  if (!response.ok) throw new ProblemError('The part that unpacks compressed models could not be fetched; try again when the connection is back.')
  return response.arrayBuffer()
}

/** On the command line the file lies beside the code. */
async function fromDisk(url: URL): Promise<ArrayBuffer> {
  const { readFile } = await import(/* @vite-ignore */ ['node:fs', 'promises'].join('/'))
  const bytes = (await readFile(url)) as Uint8Array
  return bytes.slice().buffer as ArrayBuffer
}
