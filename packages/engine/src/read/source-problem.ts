import type { FieldType } from '../table/column.ts'
import type { ReadProblem } from './read-report.ts'

/** Why rows could not be had: a code, and the facts that a message needs. */
export type SourceProblem =
  | ReadProblem
  | { readonly code: 'recipe-not-valid'; readonly path: string; readonly reason: string }
  | { readonly code: 'no-such-source'; readonly kind: string; readonly kinds: readonly string[] }
  /** The line to a service, what it answers with, or what it says, is not as it should be. */
  | { readonly code: 'service-not-reached'; readonly service: string; readonly reason: string }
  | {
      readonly code: 'service-refused'
      readonly service: string
      readonly status: number
      /** What the service says itself; empty: nothing. */
      readonly reason: string
    }
  | { readonly code: 'service-unreadable'; readonly service: string; readonly what: string }
  | {
      readonly code: 'service-has-no-such-rows'
      readonly service: string
      readonly rows: string
      readonly names: readonly string[]
    }
  | { readonly code: 'service-rows-moved'; readonly service: string }
  | { readonly code: 'service-too-many-rows'; readonly service: string; readonly most: number }
  | { readonly code: 'service-too-many-groups'; readonly service: string; readonly most: number }
  /** Groups that are kept, and as many that are not, would have to be named. */
  | { readonly code: 'service-too-many-kept'; readonly service: string; readonly most: number }
  /** An answer of a service that lists rows holds none where they should be. */
  | { readonly code: 'listing-unreadable'; readonly service: string; readonly pointer: string }
  | { readonly code: 'listing-without-key'; readonly service: string; readonly key: string }
  /** Its parts are all the same: the parameters that ask for one have no effect. */
  | { readonly code: 'listing-parts-alike'; readonly service: string; readonly parameters: readonly string[] }
  /** Rows came whose field is not of the type that the first rows had. */
  | {
      readonly code: 'listing-not-of-type'
      readonly service: string
      readonly field: string
      readonly type: FieldType
      readonly text: string
    }
  /** The page would have to do something itself with more rows than it may fetch. */
  | {
      readonly code: 'near-too-many'
      readonly service: string
      readonly what: 'search' | 'order' | 'groups' | 'condition'
      readonly column: string
      readonly rows: number
      readonly most: number
    }
  | { readonly code: 'failed'; readonly reason: string }
