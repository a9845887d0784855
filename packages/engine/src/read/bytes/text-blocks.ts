import type { Encoding, EncodingFound } from './encoding.ts'
import { detectEncoding, isGzip } from './encoding.ts'
import { feedsIn, isPlainText } from './look-through.ts'
import { FaultList } from '../read-report.ts'
import { Unpacker, unpackSome } from './unpacker.ts'
import { unfinishedBytes } from './whole-characters.ts'

/** Bytes handed out at once; scanning them and filling columns take about eight milliseconds each. */
const BLOCK_BYTES = 1 << 20
/** Bytes of a file that are fetched at once, once the first are there: each time costs milliseconds. */
const FETCHED_BYTES = 8 << 20
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
  readonly bytes: Uint8Array<ArrayBuffer>
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

function concat(chunks: readonly Uint8Array[], size: number): Uint8Array<ArrayBuffer> {
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
  /** Bytes of the file from `heldFrom` on, and those behind them. */
  private held = new ArrayBuffer(0)
  private heldFrom = 0
  private coming: Promise<ArrayBuffer> | null = null
  private readonly decoder: TextDecoder
  private readonly encoder = new TextEncoder()
  private skip: number
  private ended = false
  /** That of the next byte; in a plain file of UTF-8 that of the byte number `counted`. */
  private line = 1
  private counted = 0
  /** Bytes of a plain file of UTF-8 that were handed out, its mark included. */
  private passed: number
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
    this.skip = this.passed = markBytes
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
        return this.encoding === 'utf-8' ? await this.lastCharacter() : this.recode(null)
      }
      const bytes = this.skip > 0 ? raw.subarray(this.skip) : raw
      this.skip = 0
      const text = this.encoding === 'utf-8' ? await this.check(bytes) : this.recode(bytes)
      if (text && text.length > 0) return text
    }
  }

  private async readRaw(): Promise<Uint8Array | null> {
    if (!this.gzip) return await this.readPlain()
    this.unpacker ??= new Unpacker(this.blob)
    const { chunks, size } = await unpackSome(this.unpacker, BLOCK_BYTES)
    return size > 0 ? concat(chunks, size) : null
  }

  private async readPlain(): Promise<Uint8Array | null> {
    if (this.at >= this.blob.size) return null
    if (this.at >= this.heldFrom + this.held.byteLength) {
      this.held = await (this.coming ?? this.fetch(this.at))
      this.heldFrom = this.at
      // It comes while this one is gone through.
      const next = this.at + this.held.byteLength
      this.coming = next < this.blob.size ? this.fetch(next) : null
    }
    const from = this.at - this.heldFrom
    const bytes = new Uint8Array(this.held, from, Math.min(BLOCK_BYTES, this.held.byteLength - from))
    this.at += bytes.length
    return bytes
  }

  private fetch(from: number): Promise<ArrayBuffer> {
    const bytes = this.blob.slice(from, from + (from === 0 ? BLOCK_BYTES : FETCHED_BYTES)).arrayBuffer()
    // What fails is heard of when it is waited for.
    bytes.catch(() => {})
    return bytes
  }

  private recode(bytes: Uint8Array | null): Uint8Array | null {
    const text = bytes ? this.decoder.decode(bytes, { stream: true }) : this.decoder.decode()
    // What the decoder still held was no whole character.
    if (!bytes && text) this.cut.add(this.line, '')
    if (!text) return null
    const out = this.encoder.encode(text)
    this.noteNuls(out)
    this.line += feedsIn(out)
    return out
  }

  /** Whole characters alone; what begins another is put before the next bytes. */
  private async check(read: Uint8Array): Promise<Uint8Array> {
    const all = this.begun.length > 0 ? concat([this.begun, read], this.begun.length + read.length) : read
    const open = unfinishedBytes(all)
    const bytes = open > 0 ? all.subarray(0, all.length - open) : all
    this.begun = all.slice(all.length - open)
    if (!isPlainText(bytes)) await this.lookThrough(bytes)
    if (this.gzip) this.line += feedsIn(bytes)
    else this.passed += bytes.length
    return bytes
  }

  private async lookThrough(bytes: Uint8Array): Promise<void> {
    try {
      const text = this.decoder.decode(bytes, { stream: true })
      this.hasWide ||= text.length < bytes.length
    } catch {
      await this.countLines()
      throw new NotUtf8Error(this.line + brokenLine(bytes))
    }
    if (!bytes.includes(0)) return
    await this.countLines()
    this.noteNuls(bytes)
  }

  /** Lines of what is passed already matter only where something is wrong: the file is then looked at again. */
  private async countLines(): Promise<void> {
    for (; this.counted < this.passed; this.counted += BLOCK_BYTES) {
      const part = this.blob.slice(this.counted, Math.min(this.passed, this.counted + BLOCK_BYTES))
      this.line += feedsIn(new Uint8Array(await part.arrayBuffer()))
    }
    this.counted = this.passed
  }

  private noteNuls(bytes: Uint8Array): void {
    let { line } = this
    let from = 0
    for (let nul = bytes.indexOf(0); nul >= 0; nul = bytes.indexOf(0, nul + 1)) {
      line += feedsIn(bytes.subarray(from, nul))
      from = nul
      this.nuls.add(line, '')
    }
  }

  /** What a file that is cut off within a character still gets: the sign for one that is none. */
  private async lastCharacter(): Promise<Uint8Array | null> {
    if (this.begun.length === 0) return null
    await this.countLines()
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
