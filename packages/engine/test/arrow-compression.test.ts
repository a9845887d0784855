import { CompressionType, setCompressionCodec, tableFromArrays, tableToIPC } from '@uwdata/flechette'
import fc from 'fast-check'
import { compress } from 'lz4js'
import { describe, expect, it } from 'vitest'
import { decode } from '../src/read/column-files/arrow/arrow.ts'
import { unpackLz4Frame } from '../src/read/column-files/arrow/lz4-frame.ts'

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text)
const frameOf = (...parts: number[][]): Uint8Array =>
  Uint8Array.from([0x04, 0x22, 0x4d, 0x18, 0x40, 0x40, 0, ...parts.flat(), 0, 0, 0, 0])
const block = (...bytes: number[]): number[] => [bytes.length, 0, 0, 0, ...bytes]

/** A Zstandard frame of one block that is stored as it is. */
function zstdStored(bytes: Uint8Array): Uint8Array {
  const size = (bytes.length << 3) | 1
  const length = [
    bytes.length & 255,
    (bytes.length >> 8) & 255,
    (bytes.length >> 16) & 255,
    bytes.length >>> 24,
  ]
  return Uint8Array.from([
    0x28,
    0xb5,
    0x2f,
    0xfd,
    0xa0,
    ...length,
    size & 255,
    (size >> 8) & 255,
    size >> 16,
    ...bytes,
  ])
}

describe('LZ4 frames', () => {
  it('give back what another writer packed', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('a', 'b', 'oak ', 'beech and '), { maxLength: 4000 }), words => {
        const bytes = bytesOf(words.join(''))
        expect(unpackLz4Frame(compress(bytes), bytes.length)).toEqual(bytes)
      }),
      { numRuns: 60 },
    )
  })

  it('may refer to blocks before, and to what a match itself writes', () => {
    const first = block(0x40, ...bytesOf('tree'))
    const second = block(0x10 | 6, ...bytesOf('s'), 5, 0, 0x10, ...bytesOf('!'))
    expect(new TextDecoder().decode(unpackLz4Frame(frameOf(first, second), 16))).toBe('treestreestrees!')
  })

  it('that are damaged are refused, wherever they are cut or changed', () => {
    const bytes = bytesOf('seen seen seen seen, not seen, seen again and again '.repeat(40))
    const frame = compress(bytes) as Uint8Array
    for (let cut = 0; cut < frame.length; cut++)
      expect(() => unpackLz4Frame(frame.slice(0, cut), bytes.length)).toThrow(RangeError)
    fc.assert(
      fc.property(fc.nat(frame.length - 1), fc.nat(255), (at, byte) => {
        const damaged = frame.slice()
        damaged[at] = byte
        try {
          expect(unpackLz4Frame(damaged, bytes.length)).toHaveLength(bytes.length)
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError)
        }
      }),
    )
  })
})

describe('an Arrow file', () => {
  const rows = {
    name: Array.from({ length: 300 }, (_, i) => `tree ${i % 7}`),
    count: Array.from({ length: 300 }, (_, i) => i * 2),
  }
  const packed = (
    codec: Parameters<typeof setCompressionCodec>[0],
    encode: (bytes: Uint8Array) => Uint8Array,
  ): Blob => {
    setCompressionCodec(codec, { encode, decode: bytes => bytes })
    const bytes = tableToIPC(tableFromArrays(rows), { codec } as never) as Uint8Array<ArrayBuffer>
    return new Blob([bytes])
  }

  it.each([
    ['LZ4', CompressionType.LZ4_FRAME, (bytes: Uint8Array) => compress(bytes) as Uint8Array],
    ['Zstandard', CompressionType.ZSTD, zstdStored],
  ] as const)('packed with %s is read', async (_, codec, encode) => {
    const file = packed(codec, encode)
    const opened = await decode(file)
    if (opened === 'encrypted') throw new Error(opened)
    const { chunks, fields } = opened
    const read: Record<string, unknown[]> = { name: [], count: [] }
    for await (const { field, length, at } of chunks())
      for (let i = 0; i < length; i++) read[fields[field].name].push(at(i))
    expect(read).toEqual(rows)
  })
})
