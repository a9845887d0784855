import type { FieldType } from '../table/column.ts'

/** What a source remarks for the builder besides how rows were read, by code and facts: the words are elsewhere. */
export type SourceRemark =
  | { readonly code: 'made-up' }
  /** Cells are worked out from the number of their row. */
  | { readonly code: 'computed' }
  /** Rows from one on follow those before. `rows`: so many are real. */
  | { readonly code: 'grown'; readonly rows: number }
  /** A field reads otherwise by all rows than by the first `rows` of them. */
  | {
      readonly code: 'other-type'
      readonly field: string
      readonly first: FieldType
      readonly type: FieldType
      readonly rows: number
    }
  /** Conditions or summaries of the host's own cannot be handed to a worker. */
  | { readonly code: 'parts-in-page'; readonly names: readonly string[] }
  | { readonly code: 'no-worker'; readonly reason: string }
  /** A service lists so few rows that all of them were fetched. */
  | { readonly code: 'all-fetched'; readonly rows: number }
  /** Properties of a service that no cell can show. */
  | { readonly code: 'left-out'; readonly names: readonly string[] }
  /** Further rows did not come. */
  | { readonly code: 'broken-off'; readonly reason: string }
