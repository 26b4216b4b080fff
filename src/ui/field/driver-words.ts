import type { Unit } from '../../core/kinds.ts'
import type { DriverTarget, DriverUse } from '../../core/meadow.ts'
import { showQuantity } from '../params/quantity.ts'

/** What the drivers change, in words. */
export const TARGET_WORDS: Readonly<Record<DriverTarget, { readonly label: string; readonly unit: Unit; readonly least: number; readonly most: number; readonly step: number }>> = {
  density: { label: 'Density', unit: 'share', least: 0, most: 1, step: 0.05 },
  size: { label: 'Size', unit: 'factor', least: 0.01, most: 20, step: 0.05 },
  height: { label: 'Height alone', unit: 'factor', least: 0.01, most: 20, step: 0.05 },
  girth: { label: 'Girth alone', unit: 'factor', least: 0.01, most: 20, step: 0.05 },
  turn: { label: 'Turn', unit: 'deg', least: -720, most: 720, step: 5 },
  lift: { label: 'Lift', unit: 'm', least: -100, most: 100, step: 0.05 },
  lean: { label: 'Lean', unit: 'deg', least: -80, most: 80, step: 1 },
  tint: { label: 'Tint', unit: 'factor', least: 0, most: 1, step: 1 },
}

/** "size 0.5 × to 2 ×": what a driver gives from its first value to its second. */
export function amountWords({ target, low, high }: DriverUse): string {
  const { label, unit } = TARGET_WORDS[target]
  if (target === 'tint') return label.toLowerCase()
  return `${label.toLowerCase()} ${showQuantity(Number(low), unit)} to ${showQuantity(Number(high), unit)}`
}
