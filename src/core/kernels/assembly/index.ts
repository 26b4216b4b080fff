export { even } from './even'
export { fractal, patches } from './noise'
export { fill, group, lay, sort, write } from './rows'
export { land, rotate, seat } from './stance'

/** Where memory is free, bytes. */
export const free: usize = __heap_base
