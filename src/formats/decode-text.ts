/** Text of a file: UTF-8, with or without a mark of byte order, or else Latin-1, which no bytes can be wrong in. */
export function decodeText(bytes: Uint8Array<ArrayBuffer>): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return new TextDecoder('windows-1252').decode(bytes)
  }
}
