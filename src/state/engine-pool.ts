import { createBrowserPool } from '../runner/browser-pool.ts'
import type { Pool } from '../runner/pool.ts'

let pool: Pool | undefined

/** The one pool of workers of this tab, started when it is first wanted. */
export function enginePool(): Pool {
  pool ??= createBrowserPool()
  return pool
}
