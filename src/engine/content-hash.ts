import { mix } from '../core/math/random.ts'

/** A 64-bit name of 32-bit words, as text; for caches, not against forgery. */
export function hashWords(words: Uint32Array, salt = 0): string {
  let a = mix(words.length ^ salt)
  let b = mix(a ^ 0x5bd1e995)
  for (let i = 0; i < words.length; i++) {
    a = Math.imul(a ^ words[i], 0x9e3779b1)
    a ^= a >>> 15
    b = Math.imul(b + words[i], 0x85ebca77)
    b ^= b >>> 13
  }
  return (mix(a) >>> 0).toString(36) + (mix(b ^ a) >>> 0).toString(36)
}

/** The same for text. */
export function hashString(text: string): string {
  const words = new Uint32Array(text.length)
  for (let i = 0; i < text.length; i++) words[i] = text.charCodeAt(i)
  return hashWords(words)
}
