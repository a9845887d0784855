import type { FlowReport, GroupsHeldBack, StageName, StageReport } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { searchWords } from '../search/fold.ts'
import type { ServiceSchema } from './schema.ts'
import type { ServiceView } from './service-view.ts'

/** Rows of groups that are not kept. */
export const heldRows = (heldBack: readonly GroupsHeldBack[]): number =>
  heldBack.reduce((sum, { rows }) => sum + rows, 0)

/** What each stage did, as far as a service tells: rows in and out, and the time of all of it at the first that worked. */
export function reportOf(
  { properties }: ServiceSchema,
  { search, searchColumns }: ViewRequest,
  { query, passing, grouped }: ServiceView,
  found: number,
  {
    total,
    ms,
    heldBack = [],
  }: { readonly total: number; readonly ms: number; readonly heldBack?: readonly GroupsHeldBack[] },
): FlowReport {
  const fields = properties.length
  const met = passing + heldRows(heldBack)
  const isSearched = searchWords(search).length > 0
  const searched = isSearched ? found : total
  const worked: StageName = grouped
    ? 'groups'
    : query.filters.size > 0
      ? 'conditions'
      : isSearched
        ? 'search'
        : 'rows'
  const stage = (name: StageName, rowsIn: number, rowsOut: number): StageReport => ({
    stage: name,
    rowsIn,
    rowsOut,
    ms: name === worked ? ms : 0,
    fresh: name === worked,
  })
  return {
    stages: [
      stage('source', total, total),
      stage('columns', fields, searchColumns.length),
      stage('search', total, searched),
      stage('conditions', searched, met),
      stage('order', met, met),
      stage('groups', met, passing),
      stage('rows', passing, passing),
    ],
    passing,
    total,
    groups: grouped ? grouped.levels.map((_, level) => grouped.groups.countOf(level)) : [],
    groupsHeldBack: heldBack,
    heldBack: {},
    searchHeldBack: null,
    conditionMs: {},
    conditionProblems: query.problems,
  }
}
