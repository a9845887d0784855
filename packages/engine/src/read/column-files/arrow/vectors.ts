import { textOfBytes } from '../add-raw.ts'
import type { Words } from '../column-file.ts'
import { halfFloat } from '../half-float.ts'
import { unpackBuffer } from './compression.ts'
import type { BatchMessage } from './messages.ts'
import type { Layout, VectorType } from './schema.ts'

/** Values of a column, or of a part of one, in one batch. */
export interface Vector {
  readonly length: number
  /** The raw value, as its logical type has it; null where there is none. */
  readonly at: (i: number) => unknown
  readonly isNull: (i: number) => boolean
  /** Of values with a dictionary: the number of each (−1: none), and what it is. */
  readonly words?: Words
  /** Texts with offsets of 32 bits, as they lie. */
  readonly utf8?: { readonly bytes: Uint8Array; readonly offsets: Int32Array }
}

/** How often lists may hold each of their values. */
const MOST_OVERLAY = 64

/** Dictionaries by their number; they may grow or be replaced between batches. */
export type Dictionaries = ReadonlyMap<number, Vector>

/**
 * Lays vectors over the buffers of a batch, in the order of the schema's tree. Every length and offset is checked before
 * it is gone by: `RangeError` where one leads outside, so that `at` never does.
 */
export class BatchReader {
  private node = 0
  private buffer = 0
  private variadic = 0
  private readonly batch: BatchMessage
  private readonly dictionaries: Dictionaries
  private readonly hasUnionBits: boolean

  /** `version`: of the format; before 5, unions had a list of nulls. */
  constructor(batch: BatchMessage, dictionaries: Dictionaries, version: number) {
    this.batch = batch
    this.dictionaries = dictionaries
    this.hasUnionBits = version < 4
  }

  vector(of: VectorType): Vector {
    const node = this.batch.nodes.at(this.node++)
    if (!node) throw new RangeError('it has fewer columns than its schema')
    const [length, nulls] = node
    if (length < 0) throw new RangeError(`a column of ${length} values cannot be`)
    if (of.layout.kind === 'null') return { length, at: () => null, isNull: () => true }
    if (of.layout.kind === 'run-end') return this.runEnds(of, length)
    if (of.layout.kind === 'union') return this.union(of, of.layout, length)
    const bits = this.bytes()
    if (nulls > 0) atLeast(bits, Math.ceil(length / 8))
    const isNull = nulls > 0 ? (i: number) => ((bits[i >> 3] >> (i & 7)) & 1) === 0 : () => false
    const present = this.present(of, of.layout, length, isNull)
    const at = (i: number): unknown => (isNull(i) ? null : present.at(i))
    return {
      length,
      at,
      isNull,
      ...('utf8' in present && { utf8: present.utf8 }),
      ...('words' in present && { words: present.words }),
    }
  }

  private present(
    of: VectorType,
    layout: Exclude<Layout, { kind: 'null' | 'run-end' | 'union' }>,
    length: number,
    isNull: (i: number) => boolean,
  ): Pick<Vector, 'at' | 'utf8' | 'words'> {
    switch (layout.kind) {
      case 'bits': {
        const bits = atLeast(this.bytes(), Math.ceil(length / 8))
        return { at: i => ((bits[i >> 3] >> (i & 7)) & 1) === 1 }
      }
      case 'numbers':
        return this.numbers(of, layout, length, isNull)
      case 'fixed': {
        const bytes = atLeast(this.bytes(), length * layout.bytes)
        const cut = (i: number): Uint8Array => bytes.subarray(i * layout.bytes, (i + 1) * layout.bytes)
        return { at: of.type.kind === 'interval' ? i => intervalOf(cut(i)) : cut }
      }
      case 'bytes':
        return this.texts(of, layout.offsetBytes, length)
      case 'views':
        return { at: this.views(of, length) }
      case 'list': {
        const { at } = this.offsets(layout.offsetBytes, length + 1)
        return { at: this.lists(of, i => [at(i), at(i + 1)], length) }
      }
      case 'list-view': {
        const offsets = this.offsets(layout.offsetBytes, length)
        const sizes = this.offsets(layout.offsetBytes, length)
        return { at: this.lists(of, i => [offsets.at(i), offsets.at(i) + sizes.at(i)], length) }
      }
      case 'fixed-list':
        return { at: this.lists(of, i => [i * layout.size, (i + 1) * layout.size], length) }
      case 'struct': {
        const members = of.children.map(child => longEnough(this.vector(child), length))
        return { at: i => members.map(member => member.at(i)) }
      }
    }
  }

  private numbers(
    of: VectorType,
    { bytes, as }: Extract<Layout, { kind: 'numbers' }>,
    length: number,
    isNull: (i: number) => boolean,
  ): Pick<Vector, 'at' | 'words'> {
    const raw = atLeast(this.bytes(), length * bytes)
    const values = numbersIn(raw, bytes, as, length)
    if (!of.dictionary) return { at: values }
    const { dictionary } = of
    const words = this.dictionaries.get(dictionary.id)
    // A batch without values needs none.
    if (!words) {
      for (let i = 0; i < length; i++) if (!isNull(i)) throw new RangeError('a dictionary is not there')
      return { at: () => null }
    }
    const code = (i: number): number => {
      if (isNull(i)) return -1
      const place = Number(values(i))
      if (!(place >= 0 && place < words.length)) throw new RangeError(`a dictionary has no value ${place}`)
      return place
    }
    return { at: i => words.at(code(i)), words: { count: words.length, code, at: words.at } }
  }

  private texts({ type }: VectorType, offsetBytes: 4 | 8, length: number): Pick<Vector, 'at' | 'utf8'> {
    const offsets = this.offsets(offsetBytes, length + 1)
    const bytes = this.bytes()
    checkAscending(offsets, length, bytes.length)
    const cut = (i: number): Uint8Array => bytes.subarray(offsets.at(i), offsets.at(i + 1))
    if (type.kind !== 'text') return { at: cut }
    const at = (i: number): string => textOfBytes(cut(i))
    return offsets.values instanceof Int32Array ? { at, utf8: { bytes, offsets: offsets.values } } : { at }
  }

  /** Short values stand in their view; of longer ones it says in which buffer, and where. */
  private views({ type }: VectorType, length: number): (i: number) => unknown {
    const views = atLeast(this.bytes(), length * 16)
    const view = new DataView(views.buffer, views.byteOffset, views.byteLength)
    const count = this.batch.variadic.at(this.variadic++) ?? 0
    if (count < 0 || count > this.batch.buffers.length)
      throw new RangeError(`${count} buffers of views cannot be`)
    const data = Array.from({ length: count }, () => this.bytes())
    const cut = (i: number): Uint8Array => {
      const size = view.getInt32(i * 16, true)
      if (size >= 0 && size <= 12) return views.subarray(i * 16 + 4, i * 16 + 4 + size)
      const from = view.getInt32(i * 16 + 12, true)
      const bytes = data.at(view.getInt32(i * 16 + 8, true))
      if (size < 0 || from < 0 || !bytes || from + size > bytes.length)
        throw new RangeError('a value lies outside of its buffer')
      return bytes.subarray(from, from + size)
    }
    return type.kind === 'text' ? i => textOfBytes(cut(i)) : cut
  }

  /** `ends`: where the values of a list begin and end, among those of the only child. */
  private lists(
    of: VectorType,
    ends: (i: number) => [number, number],
    length: number,
  ): (i: number) => unknown {
    if (of.children.length === 0) throw new RangeError('a list has no type')
    const values = this.vector(of.children[0])
    let total = 0
    for (let i = 0; i < length; i++) {
      const [from, to] = ends(i)
      total += to - from
      if (!(from >= 0 && to >= from && to <= values.length)) {
        throw new RangeError(`a list lies from ${from} to ${to} of ${values.length} values`)
      }
    }
    // Lists may lie over one another: a few bytes could say any number of values.
    if (total > values.length * MOST_OVERLAY + length)
      throw new RangeError(`lists of ${total} values lie over ${values.length}`)
    return i => {
      const [from, to] = ends(i)
      return Array.from({ length: to - from }, (_, nth) => values.at(from + nth))
    }
  }

  private runEnds(of: VectorType, length: number): Vector {
    const [ends, values] = of.children.map(child => this.vector(child))
    let last = 0
    for (let run = 0; run < ends.length; run++) {
      const end = Number(ends.at(run))
      if (!(end > last)) throw new RangeError('runs of equal values do not ascend')
      last = end
    }
    if (last < length || values.length < ends.length)
      throw new RangeError('runs of equal values end too early')
    const runOf = (i: number): number => {
      let low = 0
      let high = ends.length - 1
      while (low < high) {
        const middle = (low + high) >>> 1
        if (Number(ends.at(middle)) > i) high = middle
        else low = middle + 1
      }
      return low
    }
    return { length, at: i => values.at(runOf(i)), isNull: i => values.isNull(runOf(i)) }
  }

  private union(
    of: VectorType,
    { dense, places }: Extract<Layout, { kind: 'union' }>,
    length: number,
  ): Vector {
    if (this.hasUnionBits) this.bytes()
    const ids = atLeast(this.bytes(), length)
    const offsets = dense ? this.offsets(4, length) : null
    const children = of.children.map(child => this.vector(child))
    const at = (i: number): unknown => {
      // Numbers of types are signed bytes.
      const which = places.get((ids[i] << 24) >> 24)
      if (which === undefined) throw new RangeError(`a value is of type ${ids[i]}, which is not in its union`)
      const place = offsets ? offsets.at(i) : i
      if (!(place >= 0 && place < children[which].length)) throw new RangeError('a union has no such value')
      const value = children[which].at(place)
      return value === null ? null : [which, value]
    }
    return { length, at, isNull: i => at(i) === null }
  }

  private offsets(bytes: 4 | 8, count: number): Offsets {
    const raw = this.bytes()
    // A list without values may have no offsets either.
    if (raw.length === 0 && count <= 1) return { values: new Int32Array(1), at: () => 0 }
    atLeast(raw, count * bytes)
    if (bytes === 4) {
      const values = new Int32Array(aligned(raw, count * 4), 0, count)
      return { values, at: i => values[i] }
    }
    const values = new BigInt64Array(aligned(raw, count * 8), 0, count)
    return { values, at: i => Number(values[i]) }
  }

  /** The next buffer, unpacked. */
  private bytes(): Uint8Array {
    const { buffers, body, compression } = this.batch
    const place = buffers.at(this.buffer++)
    if (!place) throw new RangeError('it has fewer buffers than its schema')
    const [offset, length] = place
    if (offset < 0 || length < 0 || offset + length > body.length)
      throw new RangeError(`a buffer lies from ${offset} to ${offset + length} of ${body.length} bytes`)
    const bytes = body.subarray(offset, offset + length)
    return compression ? unpackBuffer(bytes, compression) : bytes
  }
}

interface Offsets {
  readonly values: Int32Array | BigInt64Array
  readonly at: (i: number) => number
}

function checkAscending({ values, at }: Offsets, length: number, most: number): void {
  let before = length > 0 ? at(0) : 0
  if (before < 0) throw new RangeError('a text begins before its buffer')
  for (let i = 1; i <= length; i++) {
    const next = Number(values[i])
    if (next < before || next > most)
      throw new RangeError(`a text lies from ${before} to ${next} of ${most} bytes`)
    before = next
  }
}

function longEnough(vector: Vector, length: number): Vector {
  if (vector.length < length) throw new RangeError('a member of a structure has fewer values than it')
  return vector
}

function atLeast(bytes: Uint8Array, needed: number): Uint8Array {
  if (bytes.length < needed)
    throw new RangeError(`a buffer has ${bytes.length} bytes where ${needed} are needed`)
  return bytes
}

/** The bytes as a buffer that begins with them, so that typed arrays can be laid over it. */
const aligned = (bytes: Uint8Array, length: number): ArrayBuffer => bytes.slice(0, length).buffer

function numbersIn(
  bytes: Uint8Array,
  size: number,
  as: 'signed' | 'unsigned' | 'float',
  length: number,
): (i: number) => number | bigint {
  const values = typedValues(bytes, size, as, length)
  if (values) return i => values[i]
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (size === 2) return i => halfFloat(view.getUint16(i * 2, true))
  if (size !== 16 && size !== 32) throw new RangeError(`numbers of ${size} bytes cannot be`)
  return i => bigNumber(view, i * size, size)
}

function typedValues(
  bytes: Uint8Array,
  size: number,
  as: 'signed' | 'unsigned' | 'float',
  length: number,
): ArrayLike<number | bigint> | null {
  const buffer = aligned(bytes, length * size)
  switch (`${as}${size}`) {
    case 'signed1':
      return new Int8Array(buffer)
    case 'signed2':
      return new Int16Array(buffer)
    case 'signed4':
      return new Int32Array(buffer)
    case 'signed8':
      return new BigInt64Array(buffer)
    case 'unsigned1':
      return new Uint8Array(buffer)
    case 'unsigned2':
      return new Uint16Array(buffer)
    case 'unsigned4':
      return new Uint32Array(buffer)
    case 'unsigned8':
      return new BigUint64Array(buffer)
    case 'float4':
      return new Float32Array(buffer)
    case 'float8':
      return new Float64Array(buffer)
    default:
      return null
  }
}

/** A signed number of 128 or 256 bits, least significant byte first. */
function bigNumber(view: DataView, at: number, size: number): bigint {
  let value = view.getBigInt64(at + size - 8, true)
  for (let word = at + size - 16; word >= at; word -= 8)
    value = (value << 64n) | view.getBigUint64(word, true)
  return value
}

/** Months; days and milliseconds; or months, days and nanoseconds. */
function intervalOf(bytes: Uint8Array): readonly (number | bigint)[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length === 4) return [view.getInt32(0, true), 0, 0]
  if (bytes.length === 8) return [0, view.getInt32(0, true), BigInt(view.getInt32(4, true)) * 1_000_000n]
  return [view.getInt32(0, true), view.getInt32(4, true), view.getBigInt64(8, true)]
}
