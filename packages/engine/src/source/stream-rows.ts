import type { RowId } from '../table/row-id.ts'
import { rowsIn } from '../table/row-id.ts'
import type { RowRecord } from '../question/records.ts'
import type { CallOptions, RowSource, StreamRequest } from './row-source.ts'

const CHUNK_ROWS = 5000

/** Streams rows by a source's own views and questions. */
export async function* streamRows(
  source: Pick<RowSource, 'view' | 'ask'>,
  { request, chunk = CHUNK_ROWS }: StreamRequest,
  options: CallOptions = {},
): AsyncIterable<readonly RowRecord[]> {
  const view = await source.view(request, options)
  try {
    const passing = await source.ask('passingRows', { view: view.id }, options)
    let rows: RowId[] = []
    const read = (): Promise<RowRecord[]> =>
      source.ask('records', { rows, binding: request.binding }, options)
    for (const row of rowsIn(passing)) {
      rows.push(row)
      if (rows.length < chunk) continue
      yield await read()
      rows = []
    }
    if (rows.length > 0) yield await read()
  } finally {
    view.close()
  }
}
