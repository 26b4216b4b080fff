import { isDoubles } from './long-list.ts'
import { mix } from './math/random.ts'

/** Names of content: 64 bits as text, for caches, not against forgery. */

/** Names 32-bit words. */
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

/** Names a text. */
export function hashString(text: string): string {
  const words = new Uint32Array(text.length)
  for (let i = 0; i < text.length; i++) words[i] = text.charCodeAt(i)
  return hashWords(words)
}

/** Names of objects, which are never changed in place: each is looked through once. */
const known = new WeakMap<object, string>()

/**
 * Names a plain value by its content: equal values have equal names, whatever the order of their keys.
 * Objects must not be changed afterwards, as those of a document never are.
 */
export function hashValue(value: unknown): string {
  if (typeof value !== 'object' || value === null) return `${typeof value}:${String(value)}`
  let name = known.get(value)
  if (name === undefined) known.set(value, (name = hashInside(value)))
  return name
}

function hashInside(value: object): string {
  if (isDoubles(value)) return `d${hashWords(new Uint32Array(value.buffer, value.byteOffset, 2 * value.length))}`
  return Array.isArray(value) ? hashList(value) : hashObject(value as Readonly<Record<string, unknown>>)
}

function hashList(list: readonly unknown[]): string {
  // Points of outlines by the ten thousand: their bits are their name.
  if (list.length > 0 && list.every((one) => typeof one === 'number')) {
    const numbers = Float64Array.from(list as readonly number[], (one) => (one === 0 ? 0 : one))
    return `n${hashWords(new Uint32Array(numbers.buffer))}`
  }
  return `l${hashString(list.map(hashValue).join(' '))}`
}

function hashObject(value: Readonly<Record<string, unknown>>): string {
  const keys = Object.keys(value).filter((key) => value[key] !== undefined).sort()
  return `o${hashString(keys.map((key) => `${JSON.stringify(key)} ${typeof value[key] === 'string' ? JSON.stringify(value[key]) : hashValue(value[key])}`).join('\n'))}`
}
