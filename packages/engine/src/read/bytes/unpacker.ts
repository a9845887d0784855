import { ReadError } from '../read-call.ts'

/** Bytes that are given to be unpacked at once: they may become a thousand times as many. */
const SLICE_BYTES = 1 << 14

/** A file that is packed with gzip, unpacked as it is asked for: never more is waiting than a slice of it comes to. */
export class Unpacker {
  /** Bytes of the file that were given to be unpacked. */
  taken = 0
  private unpacked = 0
  private readonly blob: Blob
  private readonly writer: WritableStreamDefaultWriter<Uint8Array<ArrayBuffer>>
  private readonly reader: ReadableStreamDefaultReader<Uint8Array>

  constructor(blob: Blob) {
    this.blob = blob
    // Its type says that more than bytes may go in.
    const unpack = new DecompressionStream('gzip') as unknown as TransformStream<
      Uint8Array<ArrayBuffer>,
      Uint8Array
    >
    this.writer = unpack.writable.getWriter()
    this.reader = unpack.readable.getReader()
    // What goes wrong is met again where it is read.
    this.feed().catch(() => {})
  }

  /** Some more bytes; null at the end. */
  async next(): Promise<Uint8Array | null> {
    try {
      const { done, value } = await this.reader.read()
      if (done) return null
      this.unpacked += value.length
      return value
    } catch {
      const reason = `it is cut off or changed where ${this.unpacked} bytes are unpacked`
      throw new ReadError({ code: 'damaged', format: 'gzip', reason })
    }
  }

  async close(): Promise<void> {
    await Promise.all([this.reader.cancel(), this.writer.abort()]).catch(() => {})
  }

  private async feed(): Promise<void> {
    while (this.taken < this.blob.size) {
      await this.writer.ready
      const slice = await this.blob.slice(this.taken, this.taken + SLICE_BYTES).arrayBuffer()
      this.taken += slice.byteLength
      await this.writer.write(new Uint8Array(slice))
    }
    await this.writer.close()
  }
}

/** Bytes put together until they are `least`, or the file ends. */
export async function unpackSome(
  unpacker: Unpacker,
  least: number,
): Promise<{ chunks: Uint8Array<ArrayBuffer>[]; size: number; ended: boolean }> {
  const chunks: Uint8Array<ArrayBuffer>[] = []
  let size = 0
  while (size < least) {
    const chunk = await unpacker.next()
    if (!chunk) return { chunks, size, ended: true }
    chunks.push(chunk as Uint8Array<ArrayBuffer>)
    size += chunk.length
  }
  return { chunks, size, ended: false }
}

/** A whole file, unpacked; refused where it comes to more than is allowed, before that is taken. */
export async function unpackWhole(blob: Blob, allowedBytes: number): Promise<Blob> {
  const unpacker = new Unpacker(blob)
  try {
    const { chunks, size, ended } = await unpackSome(unpacker, allowedBytes)
    if (!ended) throw new ReadError({ code: 'too-large', needBytes: size, allowedBytes })
    return new Blob(chunks)
  } finally {
    await unpacker.close()
  }
}
