import { gzipSync } from 'node:zlib'

/** A small file that asks for much, and what becomes of it: rows, or the code of a problem. */
export interface HostileFile {
  readonly make: () => string | Uint8Array<ArrayBuffer>
  readonly becomes: number | string
}

const packed = (text: string | Uint8Array): Uint8Array<ArrayBuffer> =>
  new Uint8Array(gzipSync(text, { level: 1 }))
const numbered = (): string => Array.from({ length: 300_000 }, (_, i) => `${i},x${i * 7}\n`).join('')
const wide = Array(19_999).fill('1').join(',')

/** By name. */
export const HOSTILE: Readonly<Record<string, HostileFile>> = {
  'one row of 19,999 fields among narrow ones': {
    make: () => `a,b\n${'1,2\n'.repeat(5000)}${wide}\n${'1,2\n'.repeat(5000)}`,
    becomes: 10_001,
  },
  'a first row of 19,999 fields': {
    make: () => `${wide}\n${'1,2\n'.repeat(100_000)}`,
    becomes: 'too-uneven',
  },
  'a first line of five million commas': { make: () => ','.repeat(5e6), becomes: 'too-many-fields' },
  'millions of empty fields': { make: () => `${','.repeat(1000)}\n`.repeat(5000), becomes: 4999 },
  'millions of empty lines': { make: () => '\n'.repeat(2e7), becomes: 'empty' },
  'a quote that is never closed': {
    make: () => `a,b\n1,"${'x,y\n'.repeat(15e6)}`,
    becomes: 'unclosed-quote',
  },
  'a quote that opens in every line': { make: () => `a,b\n${'"x\n'.repeat(5e6)}`, becomes: 2_500_000 },
  'a key of its own in every row': {
    make: () => `[${Array.from({ length: 30_000 }, (_, i) => `{"k${i}":1}`).join(',')}]`,
    becomes: 'too-uneven',
  },
  'a wide list among narrow ones': {
    make: () => `[${Array.from({ length: 10_000 }, (_, i) => (i === 5000 ? `[${wide}]` : '[1]')).join(',')}]`,
    becomes: 'too-uneven',
  },
  'a list in a list, a million times': { make: () => '['.repeat(1e6), becomes: 'not-json' },
  'an object in an object, a hundred thousand times': {
    make: () => `${'{"a":'.repeat(1e5)}1${'}'.repeat(1e5)}`,
    becomes: 'not-json',
  },
  'a text that is never closed': { make: () => `[{"a":"${'x'.repeat(63e6)}`, becomes: 'not-json' },
  'a number of three million digits': { make: () => `[{"n":${'7'.repeat(3e6)}}]`, becomes: 1 },
  'a gigabyte of nothing, packed': { make: () => packed(new Uint8Array(1e9)), becomes: 'not-text' },
  'ten million rows of JSON, packed': {
    make: () => packed(`[${'{"a":1},'.repeat(1e7)}{}]`),
    becomes: 10_000_001,
  },
  'packed text that is damaged near its end': {
    make: () => {
      const bytes = packed(numbered())
      bytes[bytes.length - 2000] ^= 85
      return bytes
    },
    becomes: 'damaged',
  },
  'packed text that is cut off': { make: () => packed(numbered()).subarray(0, 200_000), becomes: 'damaged' },
  'a packed file of columns that unpacks to more than it may': {
    make: () => {
      const bytes = new Uint8Array(1.2e9)
      bytes.set(new TextEncoder().encode('ARROW1'))
      return packed(bytes)
    },
    becomes: 'too-large',
  },
}
