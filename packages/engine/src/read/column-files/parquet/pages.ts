import { byteStreamSplit } from 'hyparquet/src/encoding.js'
import { deltaBinaryUnpack } from 'hyparquet/src/delta.js'
import { readPlain } from 'hyparquet/src/plain.js'
import { deserializeTCompactProtocol } from 'hyparquet/src/thrift.js'
import { compressors } from 'hyparquet-compressors'
import { readHybrid } from './hybrid.ts'
import { viewOf, type Codec, type Element, type Thrift } from './metadata.ts'

/** Kinds of page, and ways of writing values, as the format numbers them. */
const PAGE = { data: 0, dictionary: 2, dataV2: 3 } as const
const ENCODING = {
  plain: 0,
  plainDictionary: 2,
  rle: 3,
  deltaBinary: 5,
  deltaLength: 6,
  deltaBytes: 7,
  dictionary: 8,
  streamSplit: 9,
} as const
const PHYSICAL_NAMES = {
  boolean: 'BOOLEAN',
  int32: 'INT32',
  int64: 'INT64',
  int96: 'INT96',
  float: 'FLOAT',
  double: 'DOUBLE',
  bytes: 'BYTE_ARRAY',
  fixed: 'FIXED_LEN_BYTE_ARRAY',
} as const

/** Values as they are stored. */
type Stored = ArrayLike<unknown>

/** One page of a column. */
export interface Page {
  /** Of each entry; null: all are 0, or all are as deep as they can be. */
  readonly repetition: Uint32Array | null
  readonly definition: Uint32Array | null
  readonly entries: number
  /** The values that are there; with a dictionary, their numbers in it. */
  readonly values: Stored
  readonly dictionary: Stored | null
}

/** A packing or a way of writing values that is not known: it costs the column, not the file. */
export class UnreadableError extends Error {
  override readonly name = 'UnreadableError'
}

/** What is to be known of a column to read its pages. */
export interface PagesOf {
  readonly element: Element
  readonly codec: Codec
  readonly maxDefinition: number
  readonly maxRepetition: number
  /** Entries that all pages have together. */
  readonly entries: number
}

/** No page may unpack to more. */
const MOST_PAGE_BYTES = 2 ** 30
/** How much smaller the best of packings can make a page, but for a start that is free. */
const MOST_RATIO = 40_000
const FREE_BYTES = 1 << 20

/** The pages of a column, one after another. Throws `RangeError` where they say what cannot be, `UnreadableError` where they are of a kind that is not known. */
export function* readPages(bytes: Uint8Array, of: PagesOf): Generator<Page> {
  let dictionary: Stored | null = null
  let entries = 0
  for (let at = 0; entries < of.entries;) {
    if (at >= bytes.length) throw new RangeError(`its pages hold ${entries} of ${of.entries} values`)
    const reader = { view: viewOf(bytes), offset: at }
    const header = deserializeTCompactProtocol(reader) as Thrift
    const [unpacked, packed] = [size(header.field_2), size(header.field_3)]
    const body = bytes.subarray(reader.offset, reader.offset + packed)
    if (body.length < packed) throw new RangeError('a page is cut off')
    at = reader.offset + packed
    if (header.field_1 === PAGE.dictionary) {
      const facts = factsOf(header.field_7)
      const page = unpack(body, unpacked, of.codec)
      dictionary = plain(page, of.element, size(facts.field_1))
    } else if (header.field_1 === PAGE.data || header.field_1 === PAGE.dataV2) {
      const page =
        header.field_1 === PAGE.data
          ? dataPage(body, unpacked, header, of, dictionary)
          : dataPageV2(body, unpacked, header, of, dictionary)
      entries += page.entries
      if (entries > of.entries) throw new RangeError(`its pages hold more than ${of.entries} values`)
      yield page
    }
  }
}

function dataPage(
  body: Uint8Array,
  unpacked: number,
  header: Thrift,
  of: PagesOf,
  dictionary: Stored | null,
): Page {
  const facts = factsOf(header.field_5)
  const entries = entriesOf(facts.field_1, of)
  const page = unpack(body, unpacked, of.codec)
  let at = 0
  const levels = (most: number): Uint32Array | null => {
    if (most === 0) return null
    if (at + 4 > page.length) throw new RangeError('a page is cut off')
    const length = viewOf(page).getUint32(at, true)
    const read = readHybrid(page.subarray(0, at + 4 + length), at + 4, bitsOf(most), entries)
    at += 4 + length
    return read
  }
  const repetition = levels(of.maxRepetition)
  const definition = levels(of.maxDefinition)
  return withValues(page.subarray(at), facts.field_2, entries, repetition, definition, of, dictionary)
}

function dataPageV2(
  body: Uint8Array,
  unpacked: number,
  header: Thrift,
  of: PagesOf,
  dictionary: Stored | null,
): Page {
  const facts = factsOf(header.field_8)
  const entries = entriesOf(facts.field_1, of)
  const [definitionBytes, repetitionBytes] = [size(facts.field_5), size(facts.field_6)]
  const before = definitionBytes + repetitionBytes
  if (before > body.length) throw new RangeError('a page is cut off')
  const repetition =
    of.maxRepetition === 0
      ? null
      : readHybrid(body.subarray(0, repetitionBytes), 0, bitsOf(of.maxRepetition), entries)
  const definition =
    of.maxDefinition === 0
      ? null
      : readHybrid(body.subarray(0, before), repetitionBytes, bitsOf(of.maxDefinition), entries)
  const rest = body.subarray(before)
  const page = facts.field_7 === false ? rest : unpack(rest, unpacked - before, of.codec)
  return withValues(page, facts.field_4, entries, repetition, definition, of, dictionary)
}

function withValues(
  page: Uint8Array,
  encoding: unknown,
  entries: number,
  repetition: Uint32Array | null,
  definition: Uint32Array | null,
  of: PagesOf,
  dictionary: Stored | null,
): Page {
  let present = entries
  if (definition) {
    present = 0
    for (const level of definition) {
      if (level === of.maxDefinition) present++
      else if (level > of.maxDefinition) throw new RangeError('a level is deeper than its schema')
    }
  }
  const page1 = { repetition, definition: present === entries ? null : definition, entries }
  if (encoding === ENCODING.dictionary || encoding === ENCODING.plainDictionary) {
    if (present === 0) return { ...page1, values: [], dictionary: null }
    if (!dictionary) throw new RangeError('a dictionary is not there')
    const numbers = readHybrid(page, 1, page[0], present)
    for (const number of numbers)
      if (number >= dictionary.length) throw new RangeError(`a dictionary has no value ${number}`)
    return { ...page1, values: numbers, dictionary }
  }
  return { ...page1, values: present === 0 ? [] : stored(page, encoding, of, present), dictionary: null }
}

function stored(page: Uint8Array, encoding: unknown, { element }: PagesOf, count: number): Stored {
  const { physical, typeLength } = element
  switch (encoding) {
    case ENCODING.plain:
      return plain(page, element, count)
    case ENCODING.rle: {
      if (physical !== 'boolean') break
      return Array.from(readHybrid(page, 4, 1, count), bit => bit === 1)
    }
    case ENCODING.deltaBinary: {
      const values = physical === 'int32' ? new Int32Array(count) : new BigInt64Array(count)
      readDeltas(page, 0, values)
      return values
    }
    case ENCODING.deltaLength:
      return deltaLengths(page, 0, count).values
    case ENCODING.deltaBytes:
      return deltaBytes(page, count)
    case ENCODING.streamSplit: {
      const width = { int32: 4, float: 4, int64: 8, double: 8, fixed: typeLength }[physical as 'fixed']
      if (!width || count * width > page.length) throw new RangeError('a page has fewer bytes than values')
      return byteStreamSplit(
        { view: viewOf(page), offset: 0 },
        count,
        PHYSICAL_NAMES[physical ?? 'bytes'],
        typeLength,
      )
    }
  }
  throw new UnreadableError(`its values are written in way ${String(encoding)}, which is not known`)
}

/** Fewest bits that a value of the plain way takes. */
const LEAST_BITS = {
  boolean: 1,
  int32: 32,
  int64: 64,
  int96: 96,
  float: 32,
  double: 64,
  bytes: 32,
  fixed: 0,
} as const

function plain(page: Uint8Array, { physical, typeLength }: Element, count: number): Stored {
  const bits = physical === 'fixed' ? typeLength * 8 : LEAST_BITS[physical ?? 'bytes']
  if (Math.ceil((count * bits) / 8) > page.length || (physical === 'fixed' && typeLength <= 0))
    throw new RangeError(`a page of ${page.length} bytes does not hold ${count} values`)
  return readPlain({ view: viewOf(page), offset: 0 }, PHYSICAL_NAMES[physical ?? 'bytes'], count, typeLength)
}

/** Values by their differences; returns the place behind them. */
function readDeltas(page: Uint8Array, from: number, into: Int32Array | BigInt64Array): number {
  const reader = { view: viewOf(page), offset: from }
  // What the header says would be gone by before it is checked.
  const [block, parts] = [variable(page, from), variable(page, variable(page, from).end)]
  if (
    block.value === 0 ||
    block.value % 128 !== 0 ||
    parts.value === 0 ||
    block.value / parts.value > page.length * 64 + 4096
  )
    throw new RangeError('a page tells differences in blocks that cannot be')
  if (parts.value > page.length) throw new RangeError('a page is cut off')
  deltaBinaryUnpack(reader, into.length, into)
  return reader.offset
}

function variable(bytes: Uint8Array, from: number): { value: number; end: number } {
  let value = 0
  for (let at = from, shift = 0; at < bytes.length && shift <= 28; at++, shift += 7) {
    value += (bytes[at] & 127) * 2 ** shift
    if (bytes[at] < 128) return { value, end: at + 1 }
  }
  throw new RangeError('a page is cut off')
}

function deltaLengths(page: Uint8Array, from: number, count: number): { values: Uint8Array[]; end: number } {
  const lengths = new Int32Array(count)
  let at = readDeltas(page, from, lengths)
  const values = Array.from(lengths, length => {
    if (length < 0 || at + length > page.length) throw new RangeError('a value is longer than its page')
    return page.subarray(at, (at += length))
  })
  return { values, end: at }
}

/** Each value begins as the one before does, as far as it says. */
function deltaBytes(page: Uint8Array, count: number): Uint8Array[] {
  const shared = new Int32Array(count)
  const { values } = deltaLengths(page, readDeltas(page, 0, shared), count)
  let before: Uint8Array = new Uint8Array(0)
  let total = 0
  return values.map((rest, i) => {
    const kept = shared[i]
    if (kept < 0 || kept > before.length)
      throw new RangeError('a value begins with more than the one before has')
    total += kept + rest.length
    if (total > MOST_PAGE_BYTES) throw new RangeError(`a page unpacks to more than ${MOST_PAGE_BYTES} bytes`)
    if (kept === 0) return (before = rest)
    const value = new Uint8Array(kept + rest.length)
    value.set(before.subarray(0, kept))
    value.set(rest, kept)
    return (before = value)
  })
}

function unpack(body: Uint8Array, unpacked: number, codec: Codec): Uint8Array {
  if (codec === 'UNCOMPRESSED') return body
  if (unpacked > Math.min(MOST_PAGE_BYTES, body.length * MOST_RATIO + FREE_BYTES))
    throw new RangeError(`a page of ${body.length} bytes cannot unpack to ${unpacked}`)
  if (unpacked === 0) return new Uint8Array(0)
  const decompress = compressors[codec]
  if (!decompress) throw new UnreadableError(`it is packed with ${codec}, which is not known`)
  const page = decompress(body, unpacked)
  if (page.length !== unpacked)
    throw new RangeError(`a page unpacks to ${page.length} bytes instead of ${unpacked}`)
  return page
}

function entriesOf(told: unknown, of: PagesOf): number {
  const entries = size(told)
  if (entries > of.entries) throw new RangeError(`its pages hold more than ${of.entries} values`)
  return entries
}

function factsOf(told: unknown): Thrift {
  if (typeof told !== 'object' || told === null) throw new RangeError('a page does not say what is in it')
  return told as Thrift
}

function size(told: unknown): number {
  if (typeof told !== 'number') throw new RangeError('a length is not there')
  if (told < 0) throw new RangeError(`a length of ${told} cannot be`)
  return told
}

const bitsOf = (most: number): number => 32 - Math.clz32(most)
