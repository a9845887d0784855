import type { Table } from '../table/column.ts'
import type { EncodingFound } from './bytes/encoding.ts'
import { NotUtf8Error, readHead, type FileHead } from './bytes/text-blocks.ts'
import { unpackWhole } from './bytes/unpacker.ts'
import type { Decoders } from './column-files/column-file.ts'
import { packagedDecoders } from './column-files/packaged-decoders.ts'
import { readColumnFile } from './column-files/read-column-file.ts'
import { readCsv } from './csv/read-csv.ts'
import { detectFormat } from './detect-format.ts'
import { readJson, readNdjson } from './json/read-json.ts'
import { beginningOf, hasMoreThanHead } from './first-rows.ts'
import { memoryLimit, mostUnpacked, ReadError, type ReadCall } from './read-call.ts'
import type {
  CsvDetails,
  Fault,
  FileFormat,
  JsonDetails,
  ReadOptions,
  ReadProblem,
  ReadReport,
} from './read-report.ts'
import type { ColumnReading } from './types/column-reading.ts'

export type ReadResult =
  | { readonly ok: true; readonly table: Table; readonly report: ReadReport }
  | { readonly ok: false; readonly problem: ReadProblem }

interface Reading {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
  readonly csv?: CsvDetails
  readonly json?: JsonDetails
  readonly faults?: readonly Fault[]
}

/**
 * Reads a file of any format into a typed table, in slices, and reports how. Says what is wrong, and where, instead of
 * throwing; rejects only with `CancelledError`. Cost: one pass, a second for JSON with an envelope and for delimited
 * text whose columns turn out to be text late.
 */
export async function readFile(
  blob: Blob,
  options: ReadOptions = {},
  call: ReadCall = {},
  decoders: Decoders = packagedDecoders,
): Promise<ReadResult> {
  try {
    return { ok: true, ...(await read(blob, options, call, decoders)) }
  } catch (error) {
    if (error instanceof ReadError) return { ok: false, problem: error.problem }
    if (error instanceof NotUtf8Error) return { ok: false, problem: { code: 'not-utf8', line: error.line } }
    throw error
  }
}

async function read(
  blob: Blob,
  options: ReadOptions,
  call: ReadCall,
  decoders: Decoders,
): Promise<{ table: Table; report: ReadReport }> {
  const head = await readHead(blob)
  const mark = head.found.markBytes > 0
  const found: EncodingFound = options.encoding
    ? { encoding: options.encoding, markBytes: head.found.markBytes }
    : head.found
  const sample = sampleOf(head, found)
  const format = options.format ?? detectFormat(head, sample)
  const isText = format !== 'arrow' && format !== 'parquet'
  // What is not looked at yet may hold more than blanks.
  if (isText && head.whole && sample.every(byte => byte === 10 || byte === 13 || byte === 32 || byte === 9))
    throw new ReadError({ code: 'empty' })
  // Servers answer with their start page, and that all is well, where there is no such file.
  if (isText && !options.format && isWebPage(sample)) throw new ReadError({ code: 'web-page' })
  const nul = isText ? sample.indexOf(0) : -1
  if (nul >= 0 && nulShare(sample) > MOST_NULS) throw notText(sample, nul)

  if (call.onFirst && isText && hasMoreThanHead(blob, head)) {
    const beginning = beginningOf(format, sample, options)
    const first =
      beginning && (await readFile(beginning.blob, beginning.options, { cancelled: call.cancelled }))
    if (first?.ok && first.table.rows > 0) call.onFirst(first)
  }

  let encoding = found
  let notUtf8Line: number | null = null
  let reading: Reading
  try {
    reading = await readAs(format, blob, head, sample, found, options, call, decoders)
  } catch (error) {
    if (!(error instanceof NotUtf8Error) || options.encoding) throw error
    // Neither UTF-8 nor without NUL: that is no text.
    if (nul >= 0) throw notText(sample, nul)
    // What is neither UTF-8 nor marked is most often text of an older program for Western languages.
    notUtf8Line = error.line
    encoding = { encoding: 'windows-1252', markBytes: 0 }
    const again = sampleOf(head, encoding)
    reading = await readAs(format, blob, head, again, encoding, options, call, decoders)
  }
  const { table, readings, csv = null, json = null, faults = [] } = reading
  const report: ReadReport = {
    format,
    gzip: head.gzip,
    encoding: isText ? encoding.encoding : null,
    byteOrderMark: isText && mark,
    notUtf8Line,
    csv,
    json,
    faults,
    columns: readings,
  }
  return { table, report }
}

/** In texts NUL comes up by mistake now and then; a file of which this part is NUL is something else. */
const MOST_NULS = 0.02

const nulShare = (sample: Uint8Array): number =>
  sample.reduce((count, byte) => (byte === 0 ? count + 1 : count), 0) / sample.length

const notText = (sample: Uint8Array, at: number): ReadError => {
  const before = sample.subarray(0, at)
  const line = before.reduce((count, byte) => (byte === 10 ? count + 1 : count), 1)
  return new ReadError({ code: 'not-text', line, byte: 0 })
}

/** Whether a text begins as a page of the web does. */
const isWebPage = (sample: Uint8Array): boolean =>
  /^\s*(?:<!--[^]*?-->\s*)?<(?:!doctype\s+html|html)[\s>]/i.test(
    new TextDecoder().decode(sample.subarray(0, 512)),
  )

/** The head as UTF-8 without its mark, whatever it is written in. */
function sampleOf(head: FileHead, { encoding, markBytes }: EncodingFound): Uint8Array<ArrayBuffer> {
  const bytes = head.bytes.subarray(markBytes)
  if (encoding === 'utf-8') return bytes
  return new TextEncoder().encode(new TextDecoder(encoding).decode(bytes))
}

async function readAs(
  format: FileFormat,
  blob: Blob,
  head: FileHead,
  sample: Uint8Array,
  found: EncodingFound,
  options: ReadOptions,
  call: ReadCall,
  decoders: Decoders,
): Promise<Reading> {
  switch (format) {
    case 'csv': {
      const { details, ...rest } = await readCsv(blob, head, sample, found, options, call)
      return { ...rest, csv: details }
    }
    case 'json':
    case 'ndjson': {
      const readRows = format === 'json' ? readJson : readNdjson
      const { details, ...rest } = await readRows(blob, head, found, options, call)
      return { ...rest, json: details }
    }
    default: {
      const unpacked = head.gzip
        ? await unpackWhole(blob, Math.min(call.memoryBytes ?? memoryLimit(), mostUnpacked(blob.size)))
        : blob
      return await readColumnFile(format, unpacked, decoders[format], options, call)
    }
  }
}
