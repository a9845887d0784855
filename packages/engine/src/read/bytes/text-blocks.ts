import type { Encoding, EncodingFound } from './encoding.ts'
import { detectEncoding, isGzip } from './encoding.ts'
import { FaultList } from '../read-report.ts'
import { Unpacker, unpackSome } from './unpacker.ts'
import { unfinishedBytes } from './whole-characters.ts'

/** Bytes handed out at once; scanning them and filling columns take about eight milliseconds each. */
const BLOCK_BYTES = 1 << 20
const HEAD_BYTES = 1 << 18

/** Thrown where bytes are not what they were taken for. */
export class NotUtf8Error extends Error {
  override readonly name = 'NotUtf8Error'
  /** 1-based, where lines end in line feeds. */
  readonly line: number
  constructor(line: number) {
    super(`Line ${line} is not UTF-8.`)
    this.line = line
  }
}

/** The start of a file, unpacked, and what it is written in. */
export interface FileHead {
  readonly gzip: boolean
  /** The first bytes after unpacking, byte-order mark included. */
  readonly bytes: Uint8Array
  /** The head is the whole file. */
  readonly whole: boolean
  readonly found: EncodingFound
}

export async function readHead(blob: Blob): Promise<FileHead> {
  const first = new Uint8Array(await blob.slice(0, HEAD_BYTES).arrayBuffer())
  const gzip = isGzip(first)
  if (!gzip) return { gzip, bytes: first, whole: first.length === blob.size, found: detectEncoding(first) }
  const unpacker = new Unpacker(blob)
  const { chunks, size, ended } = await unpackSome(unpacker, HEAD_BYTES)
  await unpacker.close()
  const bytes = concat(chunks, size)
  return { gzip, bytes, whole: ended, found: detectEncoding(bytes) }
}

function concat(chunks: readonly Uint8Array[], size: number): Uint8Array {
  const out = new Uint8Array(size)
  let at = 0
  for (const chunk of chunks) {
    out.set(chunk, at)
    at += chunk.length
  }
  return out
}

/** A text file as UTF-8, about a megabyte at a time: unpacked, re-coded, checked, without its byte-order mark. */
export class TextBlocks {
  private readonly blob: Blob
  private readonly gzip: boolean
  private readonly encoding: Encoding
  private at = 0
  private unpacker: Unpacker | null = null
  private readonly decoder: TextDecoder
  private readonly encoder = new TextEncoder()
  private skip: number
  private ended = false
  private line = 1
  private ahead: Uint8Array | null = null
  /** The beginning of a character that the next bytes end. */
  private begun: Uint8Array = new Uint8Array(0)
  private hasWide = false
  /** Characters NUL, by their lines. */
  readonly nuls = new FaultList('nul')
  /** The file ends within a character. */
  readonly cut = new FaultList('cut-character')

  constructor(blob: Blob, gzip: boolean, { encoding, markBytes }: EncodingFound) {
    this.blob = blob
    this.gzip = gzip
    this.encoding = encoding
    this.skip = markBytes
    this.decoder = new TextDecoder(encoding, { fatal: encoding === 'utf-8', ignoreBOM: true })
  }

  /** Bytes of the file that were read so far, of `size`; for packed files as far as that can be told. */
  get taken(): number {
    return this.unpacker ? this.unpacker.taken : Math.min(this.at, this.blob.size)
  }

  get size(): number {
    return this.blob.size
  }

  /** The next block, and whether it is the last; null behind the last. */
  async next(): Promise<{ bytes: Uint8Array; last: boolean } | null> {
    const bytes = this.ahead ?? (await this.read())
    if (!bytes) return null
    this.ahead = this.ended ? null : await this.read()
    return { bytes, last: this.ahead === null }
  }

  /** Gives up reading; a packed stream is let go. */
  async close(): Promise<void> {
    await this.unpacker?.close()
  }

  private async read(): Promise<Uint8Array | null> {
    for (;;) {
      const raw = await this.readRaw()
      if (!raw) {
        if (this.ended) return null
        this.ended = true
        return this.encoding === 'utf-8' ? this.lastCharacter() : this.recode(null)
      }
      const bytes = this.skip > 0 ? raw.subarray(this.skip) : raw
      this.skip = 0
      const text = this.encoding === 'utf-8' ? this.check(bytes) : this.recode(bytes)
      if (text && text.length > 0) return text
    }
  }

  private async readRaw(): Promise<Uint8Array | null> {
    if (!this.gzip) {
      if (this.at >= this.blob.size) return null
      const bytes = new Uint8Array(await this.blob.slice(this.at, this.at + BLOCK_BYTES).arrayBuffer())
      this.at += BLOCK_BYTES
      return bytes
    }
    this.unpacker ??= new Unpacker(this.blob)
    const { chunks, size } = await unpackSome(this.unpacker, BLOCK_BYTES)
    return size > 0 ? concat(chunks, size) : null
  }

  private recode(bytes: Uint8Array | null): Uint8Array | null {
    const text = bytes ? this.decoder.decode(bytes, { stream: true }) : this.decoder.decode()
    // What the decoder still held was no whole character.
    if (!bytes && text) this.cut.add(this.line, '')
    if (!text) return null
    const out = this.encoder.encode(text)
    this.noteLines(out)
    return out
  }

  /** Whole characters alone; what begins another is put before the next bytes. */
  private check(read: Uint8Array): Uint8Array {
    const all = this.begun.length > 0 ? concat([this.begun, read], this.begun.length + read.length) : read
    const open = unfinishedBytes(all)
    const bytes = open > 0 ? all.subarray(0, all.length - open) : all
    this.begun = all.slice(all.length - open)
    try {
      const text = this.decoder.decode(bytes, { stream: true })
      this.hasWide ||= text.length < bytes.length
    } catch {
      throw new NotUtf8Error(this.line + brokenLine(bytes))
    }
    this.noteLines(bytes)
    return bytes
  }

  private noteLines(bytes: Uint8Array): void {
    let nul = bytes.indexOf(0)
    for (let at = bytes.indexOf(10); at >= 0; at = bytes.indexOf(10, at + 1)) {
      for (; nul >= 0 && nul < at; nul = bytes.indexOf(0, nul + 1)) this.nuls.add(this.line, '')
      this.line++
    }
    for (; nul >= 0; nul = bytes.indexOf(0, nul + 1)) this.nuls.add(this.line, '')
  }

  /** What a file that is cut off within a character still gets: the sign for one that is none. */
  private lastCharacter(): Uint8Array | null {
    if (this.begun.length === 0) return null
    // Where no other character is longer than a byte, this is more likely another encoding than a cut.
    if (!this.hasWide) throw new NotUtf8Error(this.line)
    this.begun = new Uint8Array(0)
    this.cut.add(this.line, '')
    return Uint8Array.of(0xef, 0xbf, 0xbd)
  }

  /** What is to be told of the text itself. */
  get faults(): readonly FaultList[] {
    return [this.cut, this.nuls]
  }
}

/** 0-based number of the first line of the block that is not UTF-8; the block may start within a character. */
function brokenLine(bytes: Uint8Array): number {
  const decoder = new TextDecoder('utf-8', { fatal: true })
  let line = 0
  let start = 0
  while (start < bytes.length && (bytes[start] & 0xc0) === 0x80) start++
  while (start < bytes.length) {
    const feed = bytes.indexOf(10, start)
    const end = feed < 0 ? bytes.length : feed + 1
    try {
      decoder.decode(bytes.subarray(start, end))
    } catch {
      return line
    }
    line++
    start = end
  }
  return Math.max(0, line - 1)
}
