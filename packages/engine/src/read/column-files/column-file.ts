import type { Member } from './logical-type.ts'

/** Some rows of one field. */
export interface Chunk {
  /** Place of the field. */
  readonly field: number
  /** The first row. */
  readonly start: number
  readonly length: number
  /** The raw value of the chunk's row, as the field's type has it; null where it has none. */
  readonly at: (i: number) => unknown
  /** Where values stand once in a dictionary. */
  readonly words?: Words
  /** For texts: their UTF-8 bytes as they lie; text `i` from `offsets[i]` up to `offsets[i + 1]`. */
  readonly utf8?: {
    readonly bytes: Uint8Array
    readonly offsets: Int32Array
    readonly isNull: (i: number) => boolean
  }
}

/** Values that stand once, in a dictionary. */
export interface Words {
  readonly count: number
  /** The number of a row's value; −1: it has none. */
  readonly code: (i: number) => number
  /** The raw value of a number. */
  readonly at: (word: number) => unknown
}

/** A column that cannot be read, and why; the others are. */
export interface UnreadColumn {
  /** Its place among the fields; −1: it is not among them. */
  readonly field: number
  readonly name: string
  readonly reason: string
}

/** A file that holds columns, opened by a decoder. */
export interface ColumnFile {
  readonly rows: number
  /** Fields in their order; two may have one name. Chunks may come in any. */
  readonly fields: readonly Member[]
  /** Columns that cannot be read; more may come up while chunks are read. */
  readonly unread: readonly UnreadColumn[]
  /** Bytes of the columns once unpacked, as far as the file tells; 0 where it does not. */
  readonly bytes: number
  readonly chunks: () => AsyncIterable<Chunk>
}

/** Opens a file of one format; throws where it is damaged. Decoders are loaded when such a file is first opened. */
export type Decoder = (file: Blob) => Promise<ColumnFile | 'encrypted'>

export interface Decoders {
  readonly arrow: () => Promise<{ readonly decode: Decoder }>
  readonly parquet: () => Promise<{ readonly decode: Decoder }>
}
