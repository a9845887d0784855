/** The value goes on behind the bytes at hand. */
export const INCOMPLETE = -1
/** The bytes are not JSON; `brokenAt` tells where. */
export const BROKEN = -2

const MAX_NESTING = 256

/** Where the last value that was scanned stopped being JSON. */
export const scanned = { brokenAt: 0 }

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
 * The end of the JSON value that begins at `at`, after checking all of it (RFC 8259), or `INCOMPLETE`, or `BROKEN`. `last`: nothing follows `end`.
 */
export function scanValue(bytes: Uint8Array, at: number, end: number, last: boolean, depth = 0): number {
  if (at >= end) return last ? broken(at) : INCOMPLETE
  switch (bytes[at]) {
    case 123:
      return depth >= MAX_NESTING ? broken(at) : scanObject(bytes, at + 1, end, last, depth + 1)
    case 91:
      return depth >= MAX_NESTING ? broken(at) : scanList(bytes, at + 1, end, last, depth + 1)
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

function scanObject(bytes: Uint8Array, at: number, end: number, last: boolean, depth: number): number {
  at = skipSpace(bytes, at, end)
  if (at < end && bytes[at] === 125) return at + 1
  for (;;) {
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] !== 34) return broken(at)
    at = scanString(bytes, at, end, last)
    if (at < 0) return at
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] !== 58) return broken(at)
    at = scanValue(bytes, skipSpace(bytes, at + 1, end), end, last, depth)
    if (at < 0) return at
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] === 125) return at + 1
    if (bytes[at] !== 44) return broken(at)
    at = skipSpace(bytes, at + 1, end)
  }
}

function scanList(bytes: Uint8Array, at: number, end: number, last: boolean, depth: number): number {
  at = skipSpace(bytes, at, end)
  if (at < end && bytes[at] === 93) return at + 1
  for (;;) {
    at = scanValue(bytes, at, end, last, depth)
    if (at < 0) return at
    at = skipSpace(bytes, at, end)
    if (at >= end) return last ? broken(at) : INCOMPLETE
    if (bytes[at] === 93) return at + 1
    if (bytes[at] !== 44) return broken(at)
    at = skipSpace(bytes, at + 1, end)
  }
}

/** The end of the string whose quote opens at `at`. */
function scanString(bytes: Uint8Array, at: number, end: number, last: boolean): number {
  for (at++; at < end; at++) {
    const byte = bytes[at]
    if (byte === 34) return at + 1
    if (byte < 32) return broken(at)
    if (byte !== 92) continue
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
