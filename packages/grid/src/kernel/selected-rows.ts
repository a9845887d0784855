import type { Arrangement, KeyValue } from '@vast-meadow/engine'

/** What decides which rows pass. */
export type AskedRows = Pick<Arrangement, 'conditions' | 'where' | 'search'>

/**
 * What is selected, as briefly as it was done: rows by their keys, or all that pass by a request but some. So a server can act on
 * ten million rows that nobody listed.
 */
export type SelectedRows =
  | { readonly kind: 'keys'; readonly keys: readonly KeyValue[] }
  | { readonly kind: 'all-but'; readonly request: AskedRows; readonly except: readonly KeyValue[] }
