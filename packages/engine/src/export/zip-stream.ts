import { strToU8, Zip, ZipPassThrough } from 'fflate'

/** A file within a zip file: its bytes as they come. */
export interface ZippedFile {
  readonly name: string
  readonly bytes: AsyncIterable<Uint8Array<ArrayBuffer>> | string
}

/** Packed by the browser's own code, in a thread of its own: the page has only to add up the check sum. */
class DeflatedEntry extends ZipPassThrough {
  readonly #packer = new CompressionStream('deflate-raw')
  readonly #writer = this.#packer.writable.getWriter()
  readonly #read: Promise<void>

  constructor(name: string) {
    super(name)
    this.compression = 8
    this.#read = this.#readAll()
  }

  /** Takes what was packed so far on its way; resolves when as much room is there again. */
  async add(bytes: Uint8Array<ArrayBuffer>, last: boolean): Promise<void> {
    this.push(bytes, last)
    await this.#writer.ready
    if (last) await this.#read
  }

  protected override process(chunk: Uint8Array<ArrayBuffer>, final: boolean): void {
    void this.#writer.write(chunk)
    if (final) void this.#writer.close()
  }

  async #readAll(): Promise<void> {
    const reader = this.#packer.readable.getReader()
    for (;;) {
      const { done, value } = await reader.read()
      this.ondata(null, value ?? new Uint8Array(0), done)
      if (done) return
    }
  }
}

/** A zip file as a stream of its bytes; files are written one after another, each as its bytes are asked for. */
export async function* zipStream(files: readonly ZippedFile[]): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let ready: Uint8Array<ArrayBuffer>[] = []
  const zip = new Zip((error, bytes) => {
    if (error) throw error
    ready.push(bytes)
  })
  for (const { name, bytes } of files) {
    const entry = new DeflatedEntry(name)
    zip.add(entry)
    const parts = typeof bytes === 'string' ? oneText(bytes) : bytes
    for await (const part of parts) {
      await entry.add(part, false)
      yield* ready
      ready = []
    }
    await entry.add(new Uint8Array(0), true)
    yield* ready
    ready = []
  }
  zip.end()
  yield* ready
}

async function* oneText(text: string): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  yield await Promise.resolve(strToU8(text))
}
