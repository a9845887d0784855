import type { FlowReport, StageName, StageReport } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'

/** What each stage did, as far as a service that lists rows tells. */
export function listedReport(
  { searchColumns }: ViewRequest,
  {
    fields,
    passing,
    total,
    ms,
  }: { readonly fields: number; readonly passing: number; readonly total: number; readonly ms: number },
): FlowReport {
  const stage = (name: StageName, rowsIn: number, rowsOut: number): StageReport => ({
    stage: name,
    rowsIn,
    rowsOut,
    ms: name === 'rows' ? ms : 0,
    fresh: name === 'rows',
  })
  return {
    stages: [
      stage('source', total, total),
      stage('columns', fields, searchColumns.length),
      stage('search', total, passing),
      ...(['conditions', 'order', 'groups', 'rows'] as const).map(name => stage(name, passing, passing)),
    ],
    passing,
    total,
    groups: [],
    groupsHeldBack: [],
    heldBack: {},
    searchHeldBack: null,
    conditionMs: {},
    conditionProblems: {},
  }
}

/** A report of rows that the service has narrowed before the page went on with them. `listed`: rows that it listed. */
export function narrowedBefore(
  report: FlowReport,
  {
    total,
    listed,
    isSearched,
  }: { readonly total: number; readonly listed: number; readonly isSearched: boolean },
): FlowReport {
  const found = isSearched ? listed : total
  const stages = report.stages.map((one): StageReport => {
    switch (one.stage) {
      case 'source':
        return { ...one, rowsIn: total, rowsOut: total }
      case 'search':
        return { ...one, rowsIn: total, rowsOut: one.rowsOut + found - listed }
      case 'conditions':
        return { ...one, rowsIn: found }
      default:
        return one
    }
  })
  return { ...report, stages, total }
}
