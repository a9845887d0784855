import type { ComputedColumn } from '../expression/expressions.ts'
import type { FlowRequest, Formats } from './request.ts'

/** How columns write their values, and which of them are worked out from others. */
export interface Binding {
  readonly formats: Formats
  readonly computed: readonly ComputedColumn[]
  /** BCP 47 tag of the language in which texts are ordered; default: that of where the engine runs. */
  readonly locale?: string
}

/** Rows as a reader wants to see them. */
export interface ViewRequest extends FlowRequest {
  /** Default: as the fields are, nothing computed. */
  readonly binding?: Binding
}

export const PLAIN_BINDING: Binding = { formats: {}, computed: [] }
