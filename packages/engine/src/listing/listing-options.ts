import type { ConditionKindName } from '../condition/condition.ts'
import type { Field } from '../table/column.ts'
import type { ServiceOptions } from '../service/service-options.ts'

/**
 * A service that lists rows page by page in a shape of its own: where its answers hold what, and by which parameters it is
 * asked. All of it but `fetch` and `onAsked` is plain JSON.
 */
export interface ListingOptions extends Pick<
  ServiceOptions,
  'name' | 'fetch' | 'headers' | 'patience' | 'onAsked'
> {
  /** Where it is asked; parameters that are always wanted may stand in it. */
  readonly address: string
  /** Where an answer holds the list of rows, as a JSON Pointer (RFC 6901): `/data/items`. Default: the answer is the list. */
  readonly rows?: string
  /** Where it says how many there are: a JSON Pointer, or the name of a header. Default: nowhere. */
  readonly total?: string | { readonly header: string }
  /** The fields that name a row. */
  readonly key: string | readonly string[]
  /** Types of fields; those that are not named follow from the first rows. */
  readonly fields?: readonly Field[]
  readonly page: ListingPages
  readonly order?: ListingOrder
  /** The parameter that searches. Default: the service has none. */
  readonly search?: string
  /** By field: which parameter asks what of it. */
  readonly conditions?: Readonly<Record<string, ListingConditions>>
  /** So many rows are fetched at most, so that the page answers what the service cannot. Default 5,000; 0: none. */
  readonly near?: number
}

/** How a part of the list is asked for. */
type ListingPages =
  /** From a row on, so many. `most`: rows that the service answers at once; default 100. */
  | { readonly from: string; readonly size: string; readonly most?: number }
  /** Pages of `rows` rows by their number. `first`: the number of the first, default 1; `size`: the parameter for `rows`. */
  | { readonly number: string; readonly rows: number; readonly first?: 0 | 1; readonly size?: string }

/** `{field}` stands for the field’s name. */
interface ListingOrder {
  readonly parameter: string
  /** How a field is named whose values ascend, and descend. Default `{field}` and `-{field}`. */
  readonly ascending?: string
  readonly descending?: string
  /** What stands between several keys; default a comma. null: it orders by one alone. */
  readonly between?: string | null
  /** The fields by which it orders; default: all. */
  readonly fields?: readonly string[]
}

/** Kinds of conditions by their parameter; `from` and `to` are the ends of a range, both included. */
export type ListingConditions = Readonly<
  Partial<
    Record<
      | Extract<ConditionKindName, 'equals' | 'contains' | 'starts' | 'ends' | 'above' | 'below'>
      | 'from'
      | 'to',
      string
    >
  >
> & { readonly 'one-of'?: string | { readonly parameter: string; readonly between: string } }
