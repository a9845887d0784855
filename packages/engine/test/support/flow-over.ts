import { compilePattern } from '../../src/expression/pattern.ts'
import type { OwnConditions } from '../../src/condition/kinds/kind.ts'
import { Flow } from '../../src/flow/flow.ts'
import type { Bits } from '../../src/table/bits.ts'
import type { Table } from '../../src/table/column.ts'

/** A flow that has all that conditions may need. */
export const flowOver = (table: Table, own: OwnConditions = {}, absent: Bits | null = null): Flow =>
  new Flow(table, absent, { pattern: compilePattern, own })
