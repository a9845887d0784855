import { Zip, type ZipInputFile } from 'fflate'
import { PACKED_END, packNow, type PackedPart } from './packed-part.ts'

/** A file within a zip file: a text, or what was packed already, part by part. */
export interface ZippedFile {
  readonly name: string
  readonly content: string | AsyncIterable<PackedPart>
}

/** The number by which zip files say that a file is packed by DEFLATE. */
const DEFLATED = 8

/** A zip file as a stream of its bytes: files are written one after another, each as its parts are asked for. */
export async function* zipStream(files: readonly ZippedFile[]): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let ready: Uint8Array<ArrayBuffer>[] = []
  const taken = function* (): Generator<Uint8Array<ArrayBuffer>> {
    yield* ready
    ready = []
  }
  const zip = new Zip((error, bytes) => {
    if (error) throw error
    ready.push(bytes)
  })
  for (const { name, content } of files) {
    const entry: ZipInputFile = { filename: name, compression: DEFLATED, size: 0, crc: 0 }
    zip.add(entry)
    for await (const { bytes, size, crc } of typeof content === 'string' ? onePart(content) : content) {
      entry.size += size
      entry.crc = crc
      entry.ondata?.(null, bytes, false)
      yield* taken()
    }
    entry.ondata?.(null, PACKED_END, true)
    yield* taken()
  }
  zip.end()
  yield* taken()
}

async function* onePart(text: string): AsyncGenerator<PackedPart> {
  yield await Promise.resolve(packNow(text))
}
