import { constants, Deflate } from 'pako'
import { finish, type Work } from '../work/work.ts'
import { joinedBytes } from './joined-bytes.ts'

/** A part of a packed file. Parts are made one by one, and laid one behind the other are the file. */
export interface PackedPart {
  readonly bytes: Uint8Array<ArrayBuffer>
  /** Bytes before they were packed. */
  readonly size: number
  /** The check sum of all up to the end of this part. */
  readonly crc: number
}

/** Bytes that are packed at a time, some five milliseconds. */
const BYTES_A_STEP = 1 << 17
/** The quickest: harder packing takes a fifth more time for a fifth less. */
const LEVEL = 1

/**
 * Packs a text by DEFLATE (RFC 1951) up to a whole byte, so that another part may follow. `crc`: the check sum of what
 * comes before, 0 for the first part. Linear in the text.
 */
export function* packText(text: string, crc: number): Work<PackedPart> {
  const raw = new TextEncoder().encode(text)
  const made: Uint8Array[] = []
  const deflate = new Deflate({ raw: true, level: LEVEL })
  deflate.onData = bytes => made.push(bytes as Uint8Array)
  let sum = crc
  for (let from = 0; from < raw.length; from += BYTES_A_STEP) {
    const to = Math.min(raw.length, from + BYTES_A_STEP)
    const step = raw.subarray(from, to)
    sum = continueCrc(sum, step)
    deflate.push(step, to < raw.length ? constants.Z_NO_FLUSH : constants.Z_SYNC_FLUSH)
    yield
  }
  return { bytes: joinedBytes(made), size: raw.length, crc: sum }
}

/** The same at once. */
export const packNow = (text: string, crc = 0): PackedPart => finish(packText(text, crc))

/** What ends a packed file: an empty block that says it is the last. */
export const PACKED_END = Uint8Array.of(3, 0)

const table = new Uint32Array(256).map((_, n) => {
  let c = n
  for (let bit = 0; bit < 8; bit++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c
})

/** CRC-32 as zip files have it (ISO 3309). */
function continueCrc(crc: number, bytes: Uint8Array): number {
  let c = ~crc
  for (let i = 0; i < bytes.length; i++) c = table[(c ^ bytes[i]) & 255] ^ (c >>> 8)
  return ~c >>> 0
}
