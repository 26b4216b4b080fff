import type { BuiltPart } from '../../formats/asset-build.ts'

/** An asset made by code. Detail 0 is the full form, 1 and 2 its lighter ones. */
export interface DemoAsset {
  readonly id: string
  readonly name: string
  readonly category: string
  readonly tags: readonly string[]
  /** Room to itself, m, where the measured one is not what is wanted. */
  readonly room?: number
  build(detail: 0 | 1 | 2): BuiltPart[]
}
