/** Linear light of an sRGB share, both 0…1 (IEC 61966-2-1). */
export function linear(share: number): number {
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
}
