/** Numbers from 0 up to a bound, the same for the same seed (mulberry32). */
export function randomNumbers(seed: number): (below: number) => number {
  let state = seed >>> 0
  return below => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), state | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) % below
  }
}

const BYTES = [0, 1, 2, 10, 13, 32, 34, 44, 48, 91, 93, 123, 125, 127, 128, 255]
const WORDS = [0, 1, -1, 255, 256, 65_535, 65_536, 2 ** 31 - 1, -(2 ** 31), 1 << 20]
const TOKENS = [
  ',',
  ';',
  '"',
  '""',
  '\n',
  '\r\n',
  '[',
  ']',
  '{',
  '}',
  ':',
  'null',
  '1e999',
  '-0',
  '0.1',
  '\\u0000',
  '\ufeff',
  '\0',
  'sep=;\n',
  '2024-06-14',
  'NaN',
  '"a":',
]
const encoder = new TextEncoder()

/** A file that differs from one in a few places; `other` lends it parts. */
export function mutated(file: Uint8Array, other: Uint8Array, random: (below: number) => number): Uint8Array {
  let out: Uint8Array = file.slice()
  for (let i = random(4); i >= 0; i--) out = once(out, other, random)
  return out
}

function once(file: Uint8Array, other: Uint8Array, random: (below: number) => number): Uint8Array {
  const at = random(file.length + 1)
  const bytes = file.slice()
  switch (random(9)) {
    case 0:
      bytes[at] ^= 1 << random(8)
      return bytes
    case 1:
      bytes[at] = BYTES[random(BYTES.length)]
      return bytes
    case 2: {
      const view = new DataView(bytes.buffer)
      if (bytes.length >= 4) view.setInt32(Math.min(at, bytes.length - 4), WORDS[random(WORDS.length)], true)
      return bytes
    }
    case 3:
      return joined(file.subarray(0, at), file.subarray(Math.min(file.length, at + 1 + random(16))))
    case 4:
      return joined(file.subarray(0, at), encoder.encode(TOKENS[random(TOKENS.length)]), file.subarray(at))
    case 5: {
      const from = random(file.length + 1)
      return joined(file.subarray(0, at), file.subarray(from, from + random(64)), file.subarray(at))
    }
    case 6: {
      const from = random(other.length + 1)
      return joined(file.subarray(0, at), other.subarray(from, from + random(256)))
    }
    case 7: {
      const part = file.subarray(at, at + 1 + random(8))
      return joined(
        file.subarray(0, at),
        ...Array.from({ length: 1 + random(40) }, () => part),
        file.subarray(at),
      )
    }
    default:
      return file.slice(0, at)
  }
}

function joined(...parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}
