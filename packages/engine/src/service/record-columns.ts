import { SourceError } from '../source/row-source.ts'
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
  const streams = schema.can.arrow ? await service.arrow(schema.rows, params, signal) : null
  if (streams) return await columnsOfStreams(streams, schema.properties, service.name)
  const records = await service.all(schema.rows, params, signal)
  return { ...columnsOf(records, schema.properties), answers: [JSON.stringify(records)] }
}

async function columnsOfStreams(
  streams: readonly Uint8Array[],
  properties: readonly Property[],
  service: string,
): Promise<RecordColumns> {
  const { arrowColumns } = await import('./arrow-columns.ts')
  const parts = await Promise.all(streams.map(stream => arrowColumns(stream, properties))).catch(() => {
    throw new SourceError({ code: 'service-unreadable', service, what: 'an Arrow stream' })
  })
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
