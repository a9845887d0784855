import { copied, privateMemory, type Allocate, type ColumnArray } from '../../table/allocate.ts'

/** How a field's bytes are to be taken. */
export const PLAIN = 0
/** Inside quotes; the bounds leave the quotes out. */
const QUOTED = 1
/** Inside quotes, with doubled quotes among its bytes. */
export const DOUBLED = 2

const QUOTE = 34
/** Bytes in which a closing quote is looked for one by one: most fields are short. */
const NEAR = 256
const CR = 13
const LF = 10

/** Where the fields of records stand: those of record `r` are `firstField[r]` up to `firstField[r + 1]`. */
export interface FoundFields {
  readonly count: number
  readonly firstField: Uint32Array
  readonly starts: Uint32Array
  readonly ends: Uint32Array
  readonly how: Uint8Array
}

/** Records of one block of bytes. */
export class Records implements FoundFields {
  count = 0
  fields = 0
  firstField: Uint32Array
  lines: Uint32Array
  starts: Uint32Array
  ends: Uint32Array
  how: Uint8Array
  private readonly allocate: Allocate

  constructor(allocate: Allocate = privateMemory) {
    this.allocate = allocate
    this.firstField = new Uint32Array(allocate(4096 * 4))
    this.lines = new Uint32Array(allocate(4096 * 4))
    this.starts = new Uint32Array(allocate(65_536 * 4))
    this.ends = new Uint32Array(allocate(65_536 * 4))
    this.how = new Uint8Array(allocate(65_536))
  }

  reset(): void {
    this.count = 0
    this.fields = 0
  }

  addField(start: number, end: number, how: number): void {
    if (this.fields === this.starts.length) this.growFields()
    this.starts[this.fields] = start
    this.ends[this.fields] = end
    this.how[this.fields++] = how
  }

  /** Whether the field is empty and was not even quoted. */
  isBlank(field: number): boolean {
    return this.starts[field] === this.ends[field] && this.how[field] === PLAIN
  }

  endRecord(firstField: number, line: number): void {
    if (this.count + 2 > this.firstField.length) {
      this.firstField = this.doubled(this.firstField)
      this.lines = this.doubled(this.lines)
    }
    this.firstField[this.count] = firstField
    this.lines[this.count++] = line
    this.firstField[this.count] = this.fields
  }

  private growFields(): void {
    this.starts = this.doubled(this.starts)
    this.ends = this.doubled(this.ends)
    this.how = this.doubled(this.how)
  }

  private doubled<T extends ColumnArray>(array: T): T {
    const { length } = array
    return copied(array, this.allocate, { used: length, length: length * 2, room: length * 2 })
  }
}

/** Where a field without quotes ends. `most`: no byte beyond ends one, which spares most bytes a look at the list. */
function plainEnd(bytes: Uint8Array, from: number, length: number, ends: Uint8Array, most: number): number {
  let at = from
  for (; at < length; at++) {
    const byte = bytes[at]
    if (byte <= most && ends[byte] === 1) break
  }
  return at
}

export type ScanProblem = { readonly code: 'unclosed-quote'; readonly line: number }

/**
 * Splits delimited text into fields, as RFC 4180 has it: quotes around a field, doubled inside, line breaks allowed
 * between them. Records may end in CRLF, LF or CR. Text behind a closing quote is kept as it stands and counted.
 */
export class Scanner {
  /** 1-based line of the next byte. */
  line = 1
  blankLines = 0
  commentLines = 0
  strayQuotes = 0
  firstStrayLine = 0
  private readonly ends = new Uint8Array(256)
  private readonly delimiter: number
  /** Bytes of the delimiter after the first; none for those of ASCII. */
  private readonly tail: Uint8Array
  /** Bytes that begin a line of comment; none: there are no comments. */
  private readonly comment: Uint8Array
  /** The first of them, −1 where there is none: looking behind the end of a list is slow. */
  private readonly commentByte: number

  /** One character each; records that begin with `comment` are passed over. */
  constructor(delimiter: string, comment: string | null = null) {
    const bytes = new TextEncoder().encode(delimiter)
    this.delimiter = bytes[0]
    this.tail = bytes.subarray(1)
    this.comment = new TextEncoder().encode(comment ?? '')
    this.commentByte = comment ? this.comment[0] : -1
    for (const byte of [this.delimiter, CR, LF]) this.ends[byte] = 1
  }

  /**
   * Scans whole records from `bytes[0]` up to `length`; `last`: nothing follows. Returns how many bytes the records
   * took; the rest begins an unfinished record and must stand first in the next call.
   */
  scan(bytes: Uint8Array, length: number, last: boolean, into: Records): number | ScanProblem {
    const { delimiter, ends, commentByte } = this
    const tail = this.tail.length
    const most = Math.max(delimiter, CR)
    let at = 0
    let taken = 0
    let firstField = into.fields
    let startLine = this.line
    while (at < length || (last && into.fields > firstField)) {
      if (bytes[at] === commentByte && into.fields === firstField && this.isComment(bytes, at)) {
        while (at < length && bytes[at] !== LF && bytes[at] !== CR) at++
        if (at === length && !last) break
        if (bytes[at] === CR && at + 1 === length && !last) break
        at += bytes[at] === CR && bytes[at + 1] === LF ? 2 : 1
        this.commentLines++
        startLine = ++this.line
        taken = Math.min(at, length)
        continue
      }
      if (at < length && bytes[at] === QUOTE) {
        const closed = this.quoted(bytes, at, length, last, into)
        if (closed === -1) {
          if (last) return { code: 'unclosed-quote', line: this.line }
          break
        }
        at = closed
      } else {
        const start = at
        at = plainEnd(bytes, at, length, ends, most)
        if (tail > 0) at = this.pastFalseDelimiters(bytes, at, length)
        if (at + tail >= length && !last) break
        into.addField(start, at, PLAIN)
      }
      const end = at < length ? bytes[at] : LF
      if (end === delimiter) {
        at += 1 + tail
        // A delimiter at the very end of the text is followed by one more, empty field.
        if (at < length || !last) continue
        into.addField(at, at, PLAIN)
      } else if (end === CR) {
        if (at + 1 === length && !last) break
        at += at + 1 < length && bytes[at + 1] === LF ? 2 : 1
      } else at++
      if (into.fields === firstField + 1 && into.isBlank(firstField)) {
        into.fields = firstField
        this.blankLines++
      } else into.endRecord(firstField, startLine)
      this.line++
      taken = Math.min(at, length)
      firstField = into.fields
      startLine = this.line
    }
    into.fields = firstField
    this.line = startLine
    return taken
  }

  /** The end of a plain field, where the delimiter's first byte alone does not end it. */
  private pastFalseDelimiters(bytes: Uint8Array, at: number, length: number): number {
    while (at < length && bytes[at] === this.delimiter && !this.isDelimiter(bytes, at)) {
      at++
      while (at < length && this.ends[bytes[at]] === 0) at++
    }
    return at
  }

  private isComment(bytes: Uint8Array, at: number): boolean {
    for (let i = 1; i < this.comment.length; i++) if (bytes[at + i] !== this.comment[i]) return false
    return true
  }

  private isDelimiter(bytes: Uint8Array, at: number): boolean {
    for (let i = 0; i < this.tail.length; i++) if (bytes[at + 1 + i] !== this.tail[i]) return false
    return true
  }

  /** Adds the quoted field that opens at `open`; returns where it ends, or −1 where its end is not in sight. */
  private quoted(bytes: Uint8Array, open: number, length: number, last: boolean, into: Records): number {
    let at = open + 1
    let how = QUOTED
    let breaks = 0
    for (;;) {
      const near = Math.min(length, at + NEAR)
      while (at < near && bytes[at] !== QUOTE) if (bytes[at++] === LF) breaks++
      if (at === near && near < length) {
        // A long field, or one whose quote is never closed, is gone through by the language's own search.
        const found = bytes.subarray(0, length).indexOf(QUOTE, at)
        if (found < 0) return -1
        for (let feed = bytes.indexOf(LF, at); feed >= 0 && feed < found; feed = bytes.indexOf(LF, feed + 1))
          breaks++
        at = found
      }
      if (at === length) return -1
      if (at + 1 === length && !last) return -1
      if (bytes[at + 1] !== QUOTE || at + 1 === length) break
      how = DOUBLED
      at += 2
    }
    const end = at++
    if (at + this.tail.length >= length && !last) return -1
    const falseEnd = this.tail.length > 0 && bytes[at] === this.delimiter && !this.isDelimiter(bytes, at)
    if (at < length && (this.ends[bytes[at]] === 0 || falseEnd)) {
      while (at < length && this.ends[bytes[at]] === 0) at++
      if (this.tail.length > 0) at = this.pastFalseDelimiters(bytes, at, length)
      if (at === length && !last) return -1
      if (this.strayQuotes++ === 0) this.firstStrayLine = this.line
      into.addField(open, at, PLAIN)
    } else into.addField(open + 1, end, how)
    this.line += breaks
    return at
  }
}
