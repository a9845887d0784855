import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { feedsIn, isPlainText } from '../src/read/bytes/look-through.ts'
import { runs } from './support/runs.ts'

/** Bytes that begin anywhere in their memory, most of them line feeds or near to one. */
const parts = fc
  .tuple(
    fc.uint8Array({ maxLength: 3000 }),
    fc.constantFrom([10], [10, 11, 138], [0, 10, 127, 128, 255], [65, 10]),
    fc.nat(9),
    fc.nat(9),
  )
  .map(([random, among, from, less]) => {
    const all = random.map((byte, i) => (i % 3 === 0 ? byte : among[byte % among.length]))
    return all.subarray(Math.min(from, all.length), Math.max(from, all.length - less))
  })

describe('bytes that are looked at several at a time', () => {
  it('have as many line feeds as are counted one by one', () => {
    fc.assert(
      fc.property(parts, bytes => {
        expect(feedsIn(bytes)).toBe(bytes.filter(byte => byte === 10).length)
      }),
      runs(500),
    )
    const feeds = new Uint8Array(9999).fill(10)
    expect(feedsIn(feeds)).toBe(9999)
  })

  it('are plain where each of them is', () => {
    fc.assert(
      fc.property(parts, fc.boolean(), (bytes, isLow) => {
        const some = isLow ? bytes.map(byte => Math.max(1, byte & 127)) : bytes
        expect(isPlainText(some)).toBe(some.every(byte => byte > 0 && byte < 128))
      }),
      runs(500),
    )
  })
})
