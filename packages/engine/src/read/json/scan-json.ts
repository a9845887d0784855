import { MAX_DEPTH } from '../columns/nesting.ts'

/** The value goes on behind the bytes at hand. */
export const INCOMPLETE = -1
/** The bytes are not JSON; `brokenAt` tells where. */
export const BROKEN = -2

const MAX_NESTING = 256
/** Kinds of parts; those of other scalars are their first byte. */
export const [OPEN, CLOSE, LIST, TEXT, ESCAPED, QUOTE] = [1, 2, 3, 4, 5, 34] as const

/** The parts of one value in their order: keys and values, and where objects open and close. */
export class JsonParts {
  count = 0
  kinds = new Uint8Array(256)
  starts = new Uint32Array(256)
  ends = new Uint32Array(256)

  add(kind: number, start: number, end: number): void {
    const at = this.count++
    if (at === this.kinds.length) this.grow()
    this.kinds[at] = kind
    this.starts[at] = start
    this.ends[at] = end
  }

  private grow(): void {
    const { kinds, starts, ends } = this
    const size = kinds.length * 2
    this.kinds = new Uint8Array(size)
    this.starts = new Uint32Array(size)
    this.ends = new Uint32Array(size)
    this.kinds.set(kinds)
    this.starts.set(starts)
    this.ends.set(ends)
  }
}

/** Where the last value that was scanned stopped being JSON, and whether its last string holds an escape. */
export const scanned = { brokenAt: 0, escaped: false }

const isSpace = (byte: number): boolean => byte === 32 || byte === 10 || byte === 13 || byte === 9

export function skipSpace(bytes: Uint8Array, at: number, end: number): number {
  while (at < end && isSpace(bytes[at])) at++
  return at
}

function broken(at: number): typeof BROKEN {
  scanned.brokenAt = at
  return BROKEN
}

/**
 * The end of the JSON value that begins at `at`, after checking all of it (RFC 8259), or `INCOMPLETE`, or `BROKEN`. `last`:
 * nothing follows `end`. `into`: takes note of its parts, so that whoever reads them need not look for their ends again.
 */
export function scanValue(
  bytes: Uint8Array,
  at: number,
  end: number,
  last: boolean,
  into: JsonParts | null = null,
  depth = 0,
): number {
  if (at >= end) return last ? broken(at) : INCOMPLETE
  const first = bytes[at]
  if (first === 123 || first === 91) {
    if (depth >= MAX_NESTING) return broken(at)
    return first === 123
      ? scanObject(bytes, at, end, last, depth + 1, into)
      : scanList(bytes, at, end, last, depth + 1, into)
  }
  const behind = scanScalar(bytes, at, end, last)
  if (into && behind > 0) into.add(first === 34 && scanned.escaped ? ESCAPED : first, at, behind)
  return behind
}

function scanScalar(bytes: Uint8Array, at: number, end: number, last: boolean): number {
  switch (bytes[at]) {
    case 34:
      return scanString(bytes, at, end, last)
    case 116:
      return scanWord(bytes, at, end, last, TRUE)
    case 102:
      return scanWord(bytes, at, end, last, FALSE)
    case 110:
      return scanWord(bytes, at, end, last, NULL)
    default:
      return scanNumber(bytes, at, end, last)
  }
}

function scanObject(
  bytes: Uint8Array,
  start: number,
  end: number,
  last: boolean,
  depth: number,
  into: JsonParts | null,
): number {
  // Objects that are kept as their text have no parts that anybody asks for.
  const inner = into && depth <= MAX_DEPTH ? into : null
  inner?.add(OPEN, start, start)
  let at = skipSpace(bytes, start + 1, end)
  if (at < end && bytes[at] === 125) return closed(start, at + 1, inner, into)
  for (;;) {
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] !== 34) return broken(at)
    const key = at
    at = scanString(bytes, at, end, last)
    if (at < 0) return at
    inner?.add(scanned.escaped ? ESCAPED : QUOTE, key, at)
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] !== 58) return broken(at)
    at = scanValue(bytes, skipSpace(bytes, at + 1, end), end, last, inner, depth)
    if (at < 0) return at
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] === 125) return closed(start, at + 1, inner, into)
    if (bytes[at] !== 44) return broken(at)
    at = skipSpace(bytes, at + 1, end)
  }
}

function closed(start: number, end: number, inner: JsonParts | null, into: JsonParts | null): number {
  if (inner) inner.add(CLOSE, end, end)
  else into?.add(TEXT, start, end)
  return end
}

function scanList(
  bytes: Uint8Array,
  start: number,
  end: number,
  last: boolean,
  depth: number,
  into: JsonParts | null,
): number {
  // Of a row that is a list the values are asked for; lists inside rows are kept whole.
  const inner = into && depth === 1 ? into : null
  inner?.add(OPEN, start, start)
  let at = skipSpace(bytes, start + 1, end)
  if (at < end && bytes[at] === 93) return closedList(start, at + 1, inner, into)
  for (;;) {
    at = scanValue(bytes, at, end, last, inner, depth)
    if (at < 0) return at
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] === 93) return closedList(start, at + 1, inner, into)
    if (bytes[at] !== 44) return broken(at)
    at = skipSpace(bytes, at + 1, end)
  }
}

function closedList(start: number, end: number, inner: JsonParts | null, into: JsonParts | null): number {
  if (inner) inner.add(CLOSE, end, end)
  else into?.add(LIST, start, end)
  return end
}

/** The end of the string whose quote opens at `at`. */
function scanString(bytes: Uint8Array, at: number, end: number, last: boolean): number {
  scanned.escaped = false
  for (at++; at < end; at++) {
    const byte = bytes[at]
    if (byte === 34) return at + 1
    if (byte < 32) return broken(at)
    if (byte !== 92) continue
    scanned.escaped = true
    const escaped = bytes[++at]
    if (at >= end) break
    if (escaped === 117) {
      for (let i = 1; i <= 4; i++) {
        if (at + i >= end) return last ? broken(at) : INCOMPLETE
        if (!isHex(bytes[at + i])) return broken(at + i)
      }
      at += 4
    } else if (!ESCAPES.has(escaped)) return broken(at)
  }
  return last ? broken(end) : INCOMPLETE
}

const ESCAPES = new Set(Array.from('"\\/bfnrt', char => char.charCodeAt(0)))
const isHex = (byte: number): boolean =>
  (byte >= 48 && byte <= 57) || ((byte | 32) >= 97 && (byte | 32) <= 102)

const encoder = new TextEncoder()
const [TRUE, FALSE, NULL] = ['true', 'false', 'null'].map(word => encoder.encode(word))

function scanWord(bytes: Uint8Array, at: number, end: number, last: boolean, word: Uint8Array): number {
  for (let i = 0; i < word.length; i++) {
    if (at + i >= end) return last ? broken(at + i) : INCOMPLETE
    if (bytes[at + i] !== word[i]) return broken(at + i)
  }
  return at + word.length
}

const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57

function scanNumber(bytes: Uint8Array, at: number, end: number, last: boolean): number {
  const start = at
  if (bytes[at] === 45) at++
  const whole = at
  while (at < end && isDigit(bytes[at])) at++
  if (at === end && !last) return INCOMPLETE
  if (at === whole || (at - whole > 1 && bytes[whole] === 48)) return broken(start)
  if (at < end && bytes[at] === 46) {
    const fraction = ++at
    while (at < end && isDigit(bytes[at])) at++
    if (at === end && !last) return INCOMPLETE
    if (at === fraction) return broken(at)
  }
  if (at < end && (bytes[at] | 32) === 101) {
    at++
    if (at < end && (bytes[at] === 43 || bytes[at] === 45)) at++
    const power = at
    while (at < end && isDigit(bytes[at])) at++
    if (at === end && !last) return INCOMPLETE
    if (at === power) return broken(at)
  }
  return at
}

/**
 * Behind a broken value of a list: where its brackets close again, or the list's next comma or end, going by quotes
 * and brackets alone; `INCOMPLETE` where that is not in sight.
 */
export function skipBroken(bytes: Uint8Array, at: number, end: number): number {
  let depth = 0
  let quoted = false
  // A bracket that closes nothing is the broken value itself.
  if (at < end && bytes[at] === 125) return at + 1
  for (; at < end; at++) {
    const byte = bytes[at]
    if (quoted) {
      if (byte === 92) at++
      else if (byte === 34) quoted = false
    } else if (byte === 34) quoted = true
    else if (byte === 123 || byte === 91) depth++
    else if (depth === 0 && (byte === 44 || byte === 93 || byte === 125)) return at
    else if ((byte === 125 || byte === 93) && --depth === 0) return at + 1
  }
  return INCOMPLETE
}
