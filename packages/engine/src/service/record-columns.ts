import { columnsOf, joinedColumns, type Columns } from './columns.ts'
import type { Property } from './schema.ts'
import type { Params } from './service.ts'
import type { ServiceContext } from './service-view.ts'

export interface RecordColumns extends Columns {
  /** What was answered, to tell later whether it still is. */
  readonly answers: readonly (string | Uint8Array)[]
}

/** All rows that are asked for: as Arrow streams where the service writes such, else as records. */
export async function readColumns(
  { service, schema }: ServiceContext,
  params: Params,
  signal?: AbortSignal,
): Promise<RecordColumns> {
  const isAsked = schema.can.arrow && !spoilt.has(service)
  const streams = isAsked ? await service.arrow(schema.rows, params, signal) : null
  const columns = streams && (await columnsOfStreams(streams, schema.properties))
  if (columns) return columns
  if (streams) spoilt.add(service)
  const records = await service.all(schema.rows, params, signal)
  return { ...columnsOf(records, schema.properties), answers: [JSON.stringify(records)] }
}

/** Services whose streams cannot be read: what stands between may take bytes for text. They are asked for records. */
const spoilt = new WeakSet<object>()

/** Null: they cannot be read. */
async function columnsOfStreams(
  streams: readonly Uint8Array[],
  properties: readonly Property[],
): Promise<RecordColumns | null> {
  const { arrowColumns } = await import('./arrow-columns.ts')
  const parts = await Promise.all(streams.map(stream => arrowColumns(stream, properties))).catch(() => null)
  if (!parts) return null
  return { ...joinedColumns(properties, parts), answers: streams }
}

/** Whether a service answered the same both times. */
export const isSameAnswer = (a: RecordColumns['answers'], b: RecordColumns['answers']): boolean =>
  a.length === b.length &&
  a.every((one, i) => {
    const other = b[i]
    if (typeof one === 'string' || typeof other === 'string') return one === other
    return one.length === other.length && one.every((byte, at) => byte === other[at])
  })
