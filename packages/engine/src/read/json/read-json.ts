import type { Table } from '../../table/column.ts'
import { decodeBytes } from '../../table/text-block.ts'
import { breathe, runSliced } from '../../work/work.ts'
import type { EncodingFound } from '../bytes/encoding.ts'
import { TextBlocks, type FileHead } from '../bytes/text-blocks.ts'
import { RowColumns } from '../columns/row-columns.ts'
import { allocateOf, ReadError, refuseTooLarge, refuseUneven, type ReadCall } from '../read-call.ts'
import { FaultList, type Fault, type JsonDetails, type ReadOptions } from '../read-report.ts'
import type { ColumnReading } from '../types/column-reading.ts'
import { JsonRowParser } from './parse-row.ts'
import { JsonStream } from './json-stream.ts'
import { BROKEN, INCOMPLETE, JsonParts, scanned, scanValue, skipSpace } from './scan-json.ts'
import { likeliestRows, surveyEnvelope, takeKey, toldTotal, type Envelope } from './survey-envelope.ts'

export interface JsonTable {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
  readonly details: JsonDetails
  readonly faults: readonly Fault[]
}

const SLICE_MS = 8

/**
 * Reads a list of rows from a JSON document: objects, or lists of which the first may name the columns; the list is
 * the document itself or lies at a path in it. Objects inside rows become fields by their path.
 * Rejects with `ReadError` and `CancelledError`.
 */
export async function readJson(
  blob: Blob,
  head: FileHead,
  found: EncodingFound,
  options: ReadOptions,
  call: ReadCall,
): Promise<JsonTable> {
  const open = (before: number, of: number, onBlock = (): void => {}): [JsonStream, TextBlocks] => {
    const blocks = new TextBlocks(blob, head.gzip, found)
    const stream = new JsonStream(blocks, call, () => {
      call.onBytes?.(before + blocks.taken, of)
      onBlock()
    })
    return [stream, blocks]
  }
  const rows = new JsonRows(options)
  let envelope: Envelope = { lists: [], beside: [] }
  let rowsPath = options.rowsPath ?? ''
  const [looking, lookedAt] = open(0, blob.size * 2)
  const isList = (await looking.peek()) === 91
  try {
    if (!isList) {
      envelope = await surveyEnvelope(looking)
      if (envelope.lists.length > 0) await rows.noteBehind(looking)
    }
  } finally {
    await lookedAt.close()
  }
  // An object without any list in it is a row by itself.
  if (options.rowsPath === undefined && !isList && envelope.lists.length === 0)
    return await readNdjson(blob, head, found, options, call)
  if (options.rowsPath === undefined && !isList) rowsPath = likeliestRows(envelope.lists) ?? ''
  const paths = envelope.lists.map(({ path }) => path)
  if (isList ? rowsPath !== '' : !paths.includes(rowsPath))
    throw new ReadError({ code: 'no-rows', rowsPath, lists: isList ? [''] : paths })

  const before = isList ? 0 : blob.size
  const [stream, blocks]: [JsonStream, TextBlocks] = open(before, before + blob.size, () =>
    rows.refuse(stream, blocks, call),
  )
  try {
    await goTo(stream, rowsPath === '' ? [] : rowsPath.split('.'))
    await rows.takeList(stream)
    rows.refuse(stream, blocks, call)
    if (isList) await rows.noteBehind(stream)
  } finally {
    await blocks.close()
  }
  return await rows.finish(options, call, blocks, {
    rowsPath,
    lists: envelope.lists.map(({ path, length }) => ({ path, length })),
    beside: envelope.beside,
    total: toldTotal(envelope.beside, rows.columns.rows),
    header: rows.header !== null,
  })
}

/** Reads newline-delimited JSON: a row a line, objects or lists. */
export async function readNdjson(
  blob: Blob,
  head: FileHead,
  found: EncodingFound,
  options: ReadOptions,
  call: ReadCall,
): Promise<JsonTable> {
  const rows = new JsonRows(options)
  const blocks = new TextBlocks(blob, head.gzip, found)
  const stream: JsonStream = new JsonStream(blocks, call, () => {
    call.onBytes?.(blocks.taken, blocks.size)
    rows.refuse(stream, blocks, call)
  })
  try {
    await rows.takeLines(stream)
    rows.refuse(stream, blocks, call)
  } finally {
    await blocks.close()
  }
  const details = { rowsPath: '', lists: [], beside: [], total: null, header: rows.header !== null }
  return await rows.finish(options, call, blocks, details)
}

/** Stands the stream on the list at the path; the survey has seen it there. */
async function goTo(stream: JsonStream, path: readonly string[]): Promise<void> {
  let rest = path.join('.')
  while (rest !== '' && (await stream.peek()) === 123) {
    stream.at++
    for (;;) {
      const key = await takeKey(stream)
      if (key === null) throw stream.problem()
      await stream.peek()
      if (rest === key || rest.startsWith(`${key}.`)) {
        rest = rest.slice(key.length + 1)
        break
      }
      const end = await stream.value()
      if (end === BROKEN) throw stream.problem()
      stream.at = end
      if ((await stream.peek()) === 44) stream.at++
    }
  }
  await stream.peek()
}

class JsonRows {
  readonly columns = new RowColumns()
  /** Names that the first row gave, where rows are lists. */
  header: string[] | null = null
  private firstList = true
  private readonly mayHaveHeader: boolean
  private readonly parts = new JsonParts()
  private readonly parser = new JsonRowParser(this.columns, this.parts)
  private readonly broken = new FaultList('not-json')
  private readonly others = new FaultList('not-a-row')
  private readonly cutOff = new FaultList('cut-off')
  private readonly ragged = new FaultList('ragged')
  private readonly behind = new FaultList('behind')
  private readonly commas = new FaultList('commas')
  /** In a list: a row came, and no comma behind it yet. */
  private rowCame = false
  /** Values that a row has, where rows are lists. */
  private expected = -1
  private sliceStarted = performance.now()

  constructor(options: ReadOptions) {
    this.mayHaveHeader = options.header !== false
  }

  /** Takes the rows of the list that the stream stands on. */
  async takeList(stream: JsonStream): Promise<void> {
    if ((await stream.peek()) !== 91) throw stream.problem()
    stream.at++
    for (;;) {
      this.takeAtHand(stream, true)
      await this.pause()
      const byte = await stream.peek()
      if (byte === 93) {
        if (!this.rowCame && this.columns.rows > 0) this.noteComma(stream)
        stream.at++
        return
      }
      if (byte === 44) {
        this.passComma(stream)
        continue
      }
      if (byte === -1) {
        this.cutOff.add(stream.lineOf(stream.at), '')
        return
      }
      const end = await stream.value(this.parts)
      if (end !== BROKEN) this.take(stream, end)
      else {
        const line = stream.lineOf(stream.at)
        const text = stream.excerpt(stream.at)
        const atEnd = scanned.brokenAt >= stream.bytes.length && stream.last
        if (!atEnd) this.broken.add(line, text)
        this.rowCame = true
        if (!(await stream.passBroken()) || atEnd) {
          this.cutOff.add(line, text)
          return
        }
      }
    }
  }

  async takeLines(stream: JsonStream): Promise<void> {
    for (;;) {
      this.takeAtHand(stream, false)
      await this.pause()
      if ((await stream.peek()) === -1) return
      const end = await stream.value(this.parts)
      if (end !== BROKEN) {
        this.take(stream, end)
        continue
      }
      const line = stream.lineOf(stream.at)
      const text = stream.excerpt(stream.at)
      if (scanned.brokenAt >= stream.bytes.length && stream.last) this.cutOff.add(line, text)
      else this.broken.add(line, text)
      await passLine(stream)
    }
  }

  /** Notes what stands behind the rows, or behind the document that holds them. */
  async noteBehind(stream: JsonStream): Promise<void> {
    if ((await stream.peek()) !== -1) this.behind.add(stream.lineOf(stream.at), stream.excerpt(stream.at))
  }

  /** Refuses tables that would not fit, or would be nearly all empty. */
  refuse(stream: JsonStream, blocks: TextBlocks, call: ReadCall): void {
    const { columns } = this
    columns.readBytes = stream.readBytes
    refuseUneven(columns.fieldCount * columns.rows, stream.readBytes)
    refuseTooLarge(columns.bytes, blocks.taken, blocks.size, call)
  }

  async finish(
    options: ReadOptions,
    call: ReadCall,
    blocks: TextBlocks,
    details: JsonDetails,
  ): Promise<JsonTable> {
    const { columns } = this
    this.refuseNothing(details)
    const doubled = new FaultList('doubled-key')
    doubled.count = columns.doubledKeys
    const faults = FaultList.found(
      this.broken,
      this.others,
      this.cutOff,
      this.ragged,
      this.commas,
      this.behind,
      doubled,
      ...blocks.faults,
    )
    const work = columns.finish(options.columns ?? {}, false, allocateOf(call))
    const { table, readings } = await runSliced(work, { cancelled: call.cancelled })
    return { table, readings, details, faults }
  }

  /** Where all that was found are faults, there is no table. */
  private refuseNothing({ rowsPath }: JsonDetails): void {
    if (this.columns.fieldCount > 0) return
    if (this.columns.rows > 0) throw new ReadError({ code: 'empty' })
    const [broken] = [...this.broken.examples, ...this.cutOff.examples, ...this.commas.examples]
    if (broken)
      throw new ReadError({ code: 'not-json', line: broken.line, column: 1, found: broken.text.slice(0, 12) })
    const [other] = this.others.examples
    if (other) throw new ReadError({ code: 'not-rows', rowsPath, line: other.line, text: other.text })
  }

  /** Takes all rows that are whole in the bytes at hand, without waiting. */
  private takeAtHand(stream: JsonStream, isList: boolean): void {
    const { bytes } = stream
    const end = bytes.length
    for (let count = 0; ; count++) {
      let at = skipSpace(bytes, stream.at, end)
      if (at < end && bytes[at] === 44 && this.rowCame) {
        this.rowCame = false
        at = skipSpace(bytes, at + 1, end)
      }
      stream.at = at
      if (at >= end || (bytes[at] !== 123 && bytes[at] !== 91)) return
      if (this.rowCame && isList) this.noteComma(stream)
      const usualEnd = bytes[at] === 123 ? this.parser.usual(bytes, at, end, () => stream.lineOf(at)) : -1
      if (usualEnd > 0) {
        stream.at = usualEnd
        this.rowCame = true
        if (this.isDue(count, stream)) return
        continue
      }
      this.parts.count = 0
      const valueEnd = scanValue(bytes, at, end, false, this.parts)
      if (valueEnd < 0) {
        if (valueEnd !== INCOMPLETE) stream.at = at
        return
      }
      stream.at = at
      this.take(stream, valueEnd)
      if (this.isDue(count, stream)) return
    }
  }

  /** Whether others shall have their turn; looked at every few rows. */
  private isDue(count: number, stream: JsonStream): boolean {
    if (count % 256 !== 255) return false
    refuseUneven(this.columns.fieldCount * this.columns.rows, stream.readBytes)
    return performance.now() - this.sliceStarted > SLICE_MS
  }

  /** Goes behind a comma, which is to stand behind a row. */
  private passComma(stream: JsonStream): void {
    if (!this.rowCame) this.noteComma(stream)
    this.rowCame = false
    stream.at++
  }

  private noteComma(stream: JsonStream): void {
    this.commas.add(stream.lineOf(stream.at), '')
  }

  private take(stream: JsonStream, end: number): void {
    this.rowCame = true
    const { bytes, at } = stream
    const line = (): number => stream.lineOf(at)
    if (bytes[at] === 123) this.parser.object(bytes, line)
    else if (bytes[at] === 91) this.takeListRow(stream, end, line)
    else this.others.add(line(), stream.excerpt(at, end - at))
    stream.at = end
  }

  private takeListRow(stream: JsonStream, end: number, line: () => number): void {
    const first = this.firstList
    this.firstList = false
    if (first && this.mayHaveHeader) {
      this.header = headerOf(decodeBytes(stream.bytes, stream.at, end))
      if (this.header) {
        this.expected = this.header.length
        for (const name of this.header) this.columns.columnAt(this.columns.root.child(name))
        return
      }
    }
    this.parser.list(stream.bytes, this.header ?? [], line)
    const { listLength } = this.parser
    if (this.expected < 0) this.expected = listLength
    else if (listLength !== this.expected) this.ragged.add(line(), String(listLength))
  }

  private async pause(): Promise<void> {
    if (performance.now() - this.sliceStarted < SLICE_MS) return
    await breathe()
    this.sliceStarted = performance.now()
  }
}

/** The names that a first row of texts gives; null where it is a row like the others. */
function headerOf(json: string): string[] | null {
  const row: unknown = JSON.parse(json)
  if (!Array.isArray(row)) return null
  const names = row.filter((name): name is string => typeof name === 'string' && name !== '')
  if (names.length !== row.length || names.length === 0) return null
  return new Set(names).size === names.length ? names : null
}

/** Goes behind the next line feed. */
async function passLine(stream: JsonStream): Promise<void> {
  for (;;) {
    const feed = stream.bytes.indexOf(10, stream.at)
    if (feed >= 0) {
      stream.at = feed + 1
      return
    }
    stream.at = stream.bytes.length
    if (stream.last || !(await stream.more())) return
  }
}
