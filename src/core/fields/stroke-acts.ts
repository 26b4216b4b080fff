/** What a stroke of the brush does to the coverage under it. */
export const STROKE_ACTS = ['sow', 'clear', 'thin'] as const
export type StrokeAct = (typeof STROKE_ACTS)[number]
