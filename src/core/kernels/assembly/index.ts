export { simplex } from './noise'
export { land, rotate, seat } from './stance'

/** Where memory is free, bytes. */
export const free: usize = __heap_base
