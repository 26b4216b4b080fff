import { registry } from '../core/kinds.ts'
import { csvHandoff } from './csv-handoff.ts'
import { glbInstanced, glbNodes } from './glb-handoff.ts'

export const HANDOFF_FORMS = registry('handoff form', [csvHandoff, glbInstanced, glbNodes])
