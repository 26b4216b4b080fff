// npm run docs: writes the documentation of the kinds from their own descriptions.
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CONDITIONS } from '../src/core/fields/conditions/index.ts'
import { DRIVERS } from '../src/core/fields/drivers/index.ts'
import { conditionsDoc } from '../src/core/kind-docs.ts'

writeFileSync(join(import.meta.dirname, '..', 'docs', 'conditions.md'), conditionsDoc(CONDITIONS.all, DRIVERS.all))
