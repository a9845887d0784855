import type { ViewRequest } from '../flow/view-request.ts'

/** All rows, as they come. */
export const PLAIN_REQUEST: ViewRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}
