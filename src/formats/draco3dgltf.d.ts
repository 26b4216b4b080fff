declare module 'draco3dgltf/draco_decoder_gltf_nodejs.js' {
  const createDecoder: (options: { readonly wasmBinary: ArrayBuffer }) => Promise<Readonly<Record<string, unknown>>>
  export = createDecoder
}
declare module 'draco3dgltf' {
  const draco: { createEncoderModule(): Promise<unknown> }
  export = draco
}
