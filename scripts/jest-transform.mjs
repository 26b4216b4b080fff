// TypeScript to modules for Jest. Its tests run in a context of their own, in which every look-up of a
// global is slow; taking those that hot loops use once per module brings the speed of a plain run back.
import { transformSync } from '@swc/core'

const TAKEN =
  'const { Math, Float32Array, Float64Array, Uint8Array, Uint16Array, Uint32Array, Int32Array, ArrayBuffer, DataView, Array, Object, Number, String, Map, Set, WeakMap, JSON, Infinity, NaN, Error, RangeError } = globalThis;'

export default {
  process(source, filename) {
    const { code, map } = transformSync(source, {
      filename,
      sourceMaps: true,
      jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: filename.endsWith('x') } },
      module: { type: 'es6' },
    })
    return { code: TAKEN + code, map }
  },
}
