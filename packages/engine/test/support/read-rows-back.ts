import { readFile, type ReadResult } from '../../src/read/read-file.ts'
import type { ReadCall } from '../../src/read/read-call.ts'
import type { ReadOptions, ReadReport } from '../../src/read/read-report.ts'
import type { Decoders } from '../../src/read/column-files/column-file.ts'
import { valueAt, type Table, type Value } from '../../src/table/column.ts'

/** The decoders as they stand in the sources; the engine ships them as files of their own. */
export const sourceDecoders: Decoders = {
  arrow: () => import('../../src/read/column-files/arrow/arrow.ts'),
  parquet: () => import('../../src/read/column-files/parquet/parquet.ts'),
}

export const readBytes = (
  bytes: BlobPart,
  options: ReadOptions = {},
  call: ReadCall = {},
): Promise<ReadResult> => readFile(new Blob([bytes]), options, call, sourceDecoders)

/** Reads what can be read; fails with the problem otherwise. */
export async function readOk(
  bytes: BlobPart,
  options: ReadOptions = {},
): Promise<{ table: Table; report: ReadReport }> {
  const result = await readBytes(bytes, options)
  if (!result.ok) throw new Error(JSON.stringify(result.problem))
  return result
}

export const rowsOf = ({ rows, fields, columns }: Table): Record<string, Value>[] =>
  Array.from({ length: rows }, (_, row) =>
    Object.fromEntries(fields.map((field, c) => [field.key, valueAt(columns[c], row)])),
  )

export const typesOf = (table: Table): Record<string, string> =>
  Object.fromEntries(table.fields.map(field => [field.key, field.type]))
