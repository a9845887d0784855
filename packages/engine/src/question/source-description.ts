import type { ReadReport } from '../read/read-report.ts'
import type { Field } from '../table/column.ts'
import type { Abilities } from './abilities.ts'
import type { SourceRemark } from './source-remark.ts'

/** How many there are: counted, known to be at least so many, or not known. */
export interface Count {
  readonly kind: 'exact' | 'at-least' | 'unknown'
  readonly rows: number
}

export interface SourceDescription {
  readonly fields: readonly Field[]
  readonly total: Count
  /** Fields that name a row, where the source knows by itself. */
  readonly key?: readonly string[]
  readonly can: Abilities
  /** Where the work is done, in plain words: `this page`, `a worker`, `a worker, shared memory`. */
  readonly where: string
  /** Bytes that the rows occupy; 0 where cells are made on demand. */
  readonly bytes: number
  /** By field: the bytes that its column occupies. */
  readonly columnBytes: Readonly<Record<string, number>>
  /** Milliseconds from the call of `open` until the rows were there. */
  readonly ms: number
  /** Remarks for the builder, in sentences: what was read otherwise than expected, why a fall-back was taken. */
  readonly notes: readonly string[]
  /** The same by code and facts, but for how rows were read; left out: there are only sentences. */
  readonly remarks?: readonly SourceRemark[]
  /** How rows were read; null where they were not. */
  readonly reading: ReadReport | null
  /** Some shown texts of each field, for column widths. */
  readonly samples: readonly (readonly string[])[]
}
