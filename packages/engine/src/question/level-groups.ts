import type { ViewRequest } from '../flow/view-request.ts'
import type { GroupPath } from '../flow/line.ts'
import type { Value } from '../table/column.ts'
import { type GroupReader } from '../flow/group-reader.ts'
import type { Question } from './question.ts'

/** A group, as charts and previews show it. */
export interface ListedGroup {
  readonly path: GroupPath
  readonly value: Value
  readonly shown: string
  readonly rest: boolean
  readonly rows: number
}

export interface LevelGroups {
  /** Groups that the level has. */
  readonly count: number
  /** Those asked for, in their order. */
  readonly groups: readonly ListedGroup[]
}

/** The groups of a level of a request from number `from` up to `to`. Nothing is opened, laid out or kept for it. */
export const levelGroups: Question<
  { readonly request: ViewRequest; readonly level: number; readonly from: number; readonly to: number },
  LevelGroups
> = {
  *answer({ flow }, { request, level, from, to }) {
    const grouped = yield* flow.groupedRows(request)
    const starts = grouped.starts.at(level)
    if (!starts) return { count: 0, groups: [] }
    const reader: GroupReader = flow.groupReader(grouped)
    const count = starts.length - 1
    const groups: ListedGroup[] = []
    for (let group = Math.max(0, from); group < Math.min(to, count); group++)
      groups.push({
        path: reader.path(level, group),
        value: reader.value(level, group),
        shown: reader.shown(level, group),
        rest: reader.isRest(level, group),
        rows: starts[group + 1] - starts[group],
      })
    return { count, groups }
  },
}
