import { decompress } from 'fzstd'
import { unpackLz4Frame } from './lz4-frame.ts'

/** How much smaller a packing can make what it packs, at the very most. */
const MOST_RATIO = { lz4: 256, zstd: 40_000 } as const

/**
 * A buffer of a body that is packed: its length once unpacked, then its bytes; a length of −1: they are not packed.
 * Throws `RangeError` where the length cannot be.
 */
export function unpackBuffer(bytes: Uint8Array, compression: 'lz4' | 'zstd'): Uint8Array {
  if (bytes.length === 0) return bytes
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const length = Number(view.getBigInt64(0, true))
  const packed = bytes.subarray(8)
  if (length === -1) return packed
  if (length < 0 || length > packed.length * MOST_RATIO[compression] || length > 2 ** 31)
    throw new RangeError(`a buffer of ${packed.length} bytes cannot unpack to ${length}`)
  if (length === 0) return new Uint8Array(0)
  if (compression === 'lz4') return unpackLz4Frame(packed, length)
  const out = decompress(packed, new Uint8Array(length))
  if (out.length !== length) throw new RangeError(`a buffer has ${out.length} bytes instead of ${length}`)
  return out
}
