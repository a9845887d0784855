import type { GroupPath, LineIndex } from '../flow/line.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Trace } from '../question/trace.ts'
import { RowSet } from '../selection/row-set.ts'
import { PageSource } from '../source/page-source.ts'
import { asRowId, type RowId } from '../table/row-id.ts'
import { tableOfRecords } from './table-of-records.ts'
import type { ServiceContext, ServiceView } from './service-view.ts'
import type { Json } from './values.ts'

/** Why a row is where it is: the page's own engine looks at that one row, the service has told where it stands. */
export async function traceOfService(
  { schema }: ServiceContext,
  view: ServiceView,
  request: ViewRequest,
  row: RowId,
  record: Json,
  { line, path }: { readonly line: LineIndex; readonly path: GroupPath },
): Promise<Trace> {
  const table = tableOfRecords(schema.properties, [record])
  const alone = { ...request, groups: [], among: undefined }
  const source = new PageSource({ kind: 'table', table })
  await source.open()
  const { id } = await source.view(alone)
  const told = await source.ask('trace', { request: alone, view: id, row: asRowId(0) })
  source.close()
  const groups = view.grouped
  const among = request.among ? RowSet.of(request.among.rows).has(row) : null
  const lowest = request.groups.findLastIndex(({ keep }) => keep !== undefined)
  const isHeldBack = line < 0 && lowest >= 0 && told.passes && among !== false
  return {
    ...told,
    row,
    among,
    passes: line >= 0 || isHeldBack,
    heldBackAt: isHeldBack ? lowest : null,
    line,
    groups:
      groups && line >= 0
        ? path.flatMap((_, level) => {
            const group = groups.groups.find(path.slice(0, level + 1))
            if (group < 0) return []
            const { column, value, shown, rest, count, open } = groups.groups.head(level, group)
            return [{ column, value, shown, rest, count, open }]
          })
        : [],
  }
}
