/** A set of row numbers, one bit a row, in 32-bit words; bits past the length are always 0. */
export type Bits = Uint32Array

export const wordsFor = (length: number): number => (length + 31) >>> 5

export const emptyBits = (length: number): Bits => new Uint32Array(wordsFor(length))

/** A set that holds every number below `length`. */
export function fullBits(length: number): Bits {
  const bits = emptyBits(length).fill(0xffffffff)
  const rest = length & 31
  if (rest) bits[bits.length - 1] = 0xffffffff >>> (32 - rest)
  return bits
}

export const hasBit = (bits: Bits, index: number): boolean => ((bits[index >>> 5] >>> (index & 31)) & 1) === 1

export function setBit(bits: Bits, index: number): void {
  bits[index >>> 5] |= 1 << (index & 31)
}

export function clearBit(bits: Bits, index: number): void {
  bits[index >>> 5] &= ~(1 << (index & 31))
}

/** `into` keeps what both hold. */
export function andInto(into: Bits, other: Bits): void {
  for (let w = 0; w < into.length; w++) into[w] &= other[w]
}

/** `into` takes what either holds. */
export function orInto(into: Bits, other: Bits): void {
  for (let w = 0; w < into.length; w++) into[w] |= other[w]
}

/** `into` becomes all numbers below `length` that it does not hold. */
export function invert(into: Bits, length: number): void {
  for (let w = 0; w < into.length; w++) into[w] = ~into[w]
  const rest = length & 31
  if (rest) into[into.length - 1] &= 0xffffffff >>> (32 - rest)
}

/** `into` loses what the other holds; the other may be shorter. */
export function andNotInto(into: Bits, other: Bits): void {
  for (let w = 0; w < other.length; w++) into[w] &= ~other[w]
}

/** A copy for more numbers; the new ones are not in it. */
export function lengthened(bits: Bits, length: number): Bits {
  const out = emptyBits(length)
  out.set(bits)
  return out
}

export function countBits(bits: Bits): number {
  let count = 0
  for (let w = 0; w < bits.length; w++) {
    let v = bits[w]
    v -= (v >>> 1) & 0x55555555
    v = (v & 0x33333333) + ((v >>> 2) & 0x33333333)
    count += Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
  }
  return count
}

/** The numbers in the set, ascending; `count` must be theirs. */
export function listBits(bits: Bits, count: number): Uint32Array {
  const out = new Uint32Array(count)
  let at = 0
  for (let w = 0; w < bits.length; w++) {
    let v = bits[w]
    while (v !== 0) {
      const low = v & -v
      out[at++] = (w << 5) + (31 - Math.clz32(low))
      v ^= low
    }
  }
  return out
}
