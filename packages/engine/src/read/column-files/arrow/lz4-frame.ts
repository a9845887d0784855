const MAGIC = 0x184d2204
const CONTENT_SIZE = 0x08
const DICTIONARY = 0x01
const BLOCK_CHECKSUM = 0x10
const STORED = 0x80000000

/**
 * Unpacks a frame of LZ4 blocks (LZ4 frame format 1.6) into `length` bytes. Blocks may refer to those before. Checksums
 * are not looked at; throws `RangeError` where the frame says what cannot be.
 */
export function unpackLz4Frame(frame: Uint8Array, length: number): Uint8Array {
  const view = new DataView(frame.buffer, frame.byteOffset, frame.byteLength)
  if (view.getUint32(0, true) !== MAGIC) throw new RangeError('no LZ4 frame')
  const flags = frame[4]
  // Magic, flags, block size and a byte of checksum; what else the header has is told by the flags.
  let at = 7 + (flags & CONTENT_SIZE ? 8 : 0) + (flags & DICTIONARY ? 4 : 0)
  const out = new Uint8Array(length)
  let end = 0
  for (let size = view.getUint32(at, true); size !== 0; size = view.getUint32(at, true)) {
    const packed = (size & ~STORED) >>> 0
    const block = frame.subarray(at + 4, at + 4 + packed)
    if (block.length < packed) throw new RangeError('an LZ4 block is cut off')
    end = size >= STORED ? store(block, out, end) : unpackBlock(block, out, end)
    at += 4 + packed + (flags & BLOCK_CHECKSUM ? 4 : 0)
  }
  if (end !== length) throw new RangeError(`an LZ4 frame has ${end} bytes instead of ${length}`)
  return out
}

function store(block: Uint8Array, out: Uint8Array, at: number): number {
  out.set(block, at)
  return at + block.length
}

/** Appends what a block unpacks to (LZ4 block format); returns where it ends. */
function unpackBlock(block: Uint8Array, out: Uint8Array, start: number): number {
  let to = start
  for (let from = 0; from < block.length;) {
    const token = block[from++]
    let literals = token >> 4
    if (literals === 15) for (let more = 255; more === 255; literals += more) more = block[from++]
    if (!(from + literals <= block.length && to + literals <= out.length))
      throw new RangeError('an LZ4 block is longer than it says')
    out.set(block.subarray(from, from + literals), to)
    from += literals
    to += literals
    // The last sequence has literals alone.
    if (from === block.length) break
    const back = block[from] | (block[from + 1] << 8)
    from += 2
    let match = (token & 15) + 4
    if ((token & 15) === 15) for (let more = 255; more === 255; match += more) more = block[from++]
    if (!(back > 0 && back <= to && to + match <= out.length))
      throw new RangeError('an LZ4 block refers to what is not there')
    // A match may reach into what it writes itself.
    for (let i = 0; i < match; i++, to++) out[to] = out[to - back]
  }
  return to
}
