/**
 * Numbers of `width` bits in the format's mix of runs and packed bits ("RLE / Bit-Packing Hybrid"), `count` of them from
 * `from` on. Throws `RangeError` where they end too early.
 */
export function readHybrid(bytes: Uint8Array, from: number, width: number, count: number): Uint32Array {
  const out = new Uint32Array(count)
  if (width === 0) return out
  if (width > 32) throw new RangeError(`numbers of ${width} bits cannot be`)
  const valueBytes = (width + 7) >> 3
  let at = from
  for (let seen = 0; seen < count;) {
    let header = 0
    for (let shift = 0; ; shift += 7) {
      if (at >= bytes.length || shift > 28) throw new RangeError('a run of numbers ends too early')
      const byte = bytes[at++]
      header |= (byte & 127) << shift
      if (byte < 128) break
    }
    header >>>= 0
    if ((header & 1) === 0) {
      const run = Math.min(header >>> 1, count - seen)
      if (at + valueBytes > bytes.length || run === 0) throw new RangeError('a run of numbers ends too early')
      let value = 0
      for (let i = 0; i < valueBytes; i++) value |= bytes[at + i] << (8 * i)
      at += valueBytes
      out.fill(value >>> 0, seen, seen + run)
      seen += run
      continue
    }
    const groups = header >>> 1
    const packed = Math.min(groups * 8, count - seen)
    // The last group may be cut off behind its last number.
    if (packed === 0 || at + Math.ceil((packed * width) / 8) > bytes.length)
      throw new RangeError('packed numbers end too early')
    unpack(bytes, at, width, out, seen, packed)
    at += groups * width
    seen += packed
  }
  return out
}

function unpack(
  bytes: Uint8Array,
  from: number,
  width: number,
  out: Uint32Array,
  seen: number,
  count: number,
): void {
  const mask = width === 32 ? 0xffffffff : 2 ** width - 1
  if (width > 24) {
    // A number and the bits before it may not fit into 32 bits.
    for (let i = 0; i < count; i++) {
      const bit = i * width
      let value = 0
      for (let place = from + (bit >> 3), have = -(bit & 7); have < width; place++, have += 8)
        value += (place < bytes.length ? bytes[place] : 0) * 2 ** have
      out[seen + i] = Math.floor(value) % (mask + 1)
    }
    return
  }
  let at = from
  let held = 0
  let bits = 0
  for (let i = seen; i < seen + count; i++) {
    while (bits < width) {
      held |= bytes[at++] << bits
      bits += 8
    }
    out[i] = held & mask
    held >>>= width
    bits -= width
  }
}
