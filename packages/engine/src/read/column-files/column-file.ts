/** What a chunk's values say; `value`: what their JavaScript types say. */
export type ChunkKind = 'value' | 'float32' | 'date' | 'time' | 'wall' | 'instant'

/** Some rows of one column. */
export interface Chunk {
  readonly key: string
  /** The first row. */
  readonly start: number
  readonly length: number
  /** Days for `date`; milliseconds for `time`, `wall` and `instant`. */
  readonly kind: ChunkKind
  /** The value of the chunk's row; null or undefined where it has none. */
  readonly at: (i: number) => unknown
  /** For texts: their UTF-8 bytes as they lie; text `i` from `offsets[i]` up to `offsets[i + 1]`. */
  readonly utf8?: {
    readonly bytes: Uint8Array
    readonly offsets: Int32Array
    readonly isNull: (i: number) => boolean
  }
}

/** A file that holds columns, opened by a decoder. */
export interface ColumnFile {
  readonly rows: number
  /** Fields in their order; chunks may come in any. */
  readonly keys: readonly string[]
  /** Bytes of the columns once unpacked, as far as the file tells; 0 where it does not. */
  readonly bytes: number
  readonly chunks: () => AsyncIterable<Chunk>
}

/** Opens a file of one format; throws where it is damaged. Decoders are loaded when such a file is first opened. */
export type Decoder = (file: Blob, buffer: () => Promise<ArrayBuffer>) => Promise<ColumnFile>

export interface Decoders {
  readonly arrow: () => Promise<{ readonly decode: Decoder }>
  readonly parquet: () => Promise<{ readonly decode: Decoder }>
}
