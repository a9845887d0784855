import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DOUBLED, Records, Scanner } from '../src/read/csv/scan.ts'
import { readFile } from '../src/read/read-file.ts'
import { fold } from '../src/search/fold.ts'
import { findAmong, findInJoined, joinBlock, joinTexts, JOINED_ROWS } from '../src/search/joined-text.ts'
import { RowSearch } from '../src/search/search-rows.ts'
import { buildShownIndex } from '../src/search/shown-index.ts'
import {
  andInto,
  countBits,
  emptyBits,
  fullBits,
  hasBit,
  invert,
  listBits,
  orInto,
  setBit,
  type Bits,
} from '../src/table/bits.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { valueAt, asColumn } from '../src/table/column.ts'
import { textBlockOf, textAt, allTexts } from '../src/table/text-block.ts'
import { privateMemory, settle, sharedMemory } from '../src/table/allocate.ts'
import { Flow } from '../src/flow/flow.ts'
import { CancelledError, finish, runSliced, type Work } from '../src/work/work.ts'
import { shower } from '../src/table/shown-text.ts'
import { runs } from './support/runs.ts'

const bitsOf = (length: number, numbers: Iterable<number>): Bits => {
  const bits = emptyBits(length)
  for (const n of numbers) setBit(bits, n)
  return bits
}

describe('bit sets', () => {
  const sets = fc
    .nat(200)
    .chain(length =>
      fc.tuple(
        fc.constant(length),
        fc.uniqueArray(fc.nat(Math.max(0, length - 1)), { maxLength: length }),
        fc.uniqueArray(fc.nat(Math.max(0, length - 1)), { maxLength: length }),
      ),
    )

  it('do what plain sets do', () => {
    fc.assert(
      fc.property(sets, ([length, a, b]) => {
        const of = (bits: Bits): number[] => [...listBits(bits, countBits(bits))]
        const all = Array.from({ length }, (_, i) => i)
        const both = bitsOf(length, a)
        andInto(both, bitsOf(length, b))
        expect(of(both)).toEqual(all.filter(n => a.includes(n) && b.includes(n)))
        const either = bitsOf(length, a)
        orInto(either, bitsOf(length, b))
        expect(of(either)).toEqual(all.filter(n => a.includes(n) || b.includes(n)))
        const others = bitsOf(length, a)
        invert(others, length)
        expect(of(others)).toEqual(all.filter(n => !a.includes(n)))
        expect(of(fullBits(length))).toEqual(all)
      }),
    )
  })
})

describe('texts end to end', () => {
  it('come back as they were, short and long, in private and in shared memory', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme', maxLength: 90 })), texts => {
        const block = textBlockOf(texts)
        const shared = {
          bytes: settle(block.bytes, sharedMemory),
          offsets: settle(block.offsets, sharedMemory),
        }
        expect(texts.map((_, i) => textAt(block, i))).toEqual(texts)
        expect(allTexts(shared)).toEqual(texts)
      }),
    )
  })

  it('are not copied when they lie where they should', () => {
    const bytes = new Uint8Array(8)
    expect(settle(bytes, privateMemory)).toBe(bytes)
    expect(settle(bytes.subarray(0, 4), privateMemory)).not.toBe(bytes)
    expect(settle(bytes, sharedMemory).buffer).toBeInstanceOf(SharedArrayBuffer)
  })
})

describe('joined text', () => {
  const texts = fc.array(fc.string({ unit: fc.constantFrom('a', 'b', 'C', ' ', '\n', 'é'), maxLength: 7 }), {
    maxLength: 60,
  })
  const word = fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'e'), minLength: 1, maxLength: 3 })

  it('is searched as if each text were searched alone', () => {
    fc.assert(
      fc.property(texts, word, fc.integer({ min: 1, max: 20 }), (rows, wanted, size) => {
        const parts = []
        for (let from = 0; from < rows.length; from += size) {
          parts.push(finish(joinTexts(from, Math.min(size, rows.length - from), row => rows[row])))
        }
        const found = emptyBits(rows.length)
        finish(findInJoined(parts, wanted, found))
        rows.forEach((text, row) => expect(hasBit(found, row)).toBe(fold(text).includes(wanted)))
        const few = bitsOf(
          rows.length,
          rows.flatMap((_, row) => (row % 2 === 0 ? [row] : [])),
        )
        const among = emptyBits(rows.length)
        finish(findAmong(parts, wanted, few, among))
        rows.forEach((text, row) =>
          expect(hasBit(among, row)).toBe(row % 2 === 0 && fold(text).includes(wanted)),
        )
      }),
      runs(300),
    )
  })

  it('is the same made from bytes at once as made text by text', () => {
    const text = fc.string({
      unit: fc.constantFrom('a', 'B', ' ', '\n', 'É', 'ß', '漢', '😀', '~'),
      maxLength: 9,
    })
    fc.assert(
      fc.property(fc.array(text, { maxLength: 40 }), fc.nat(8), (all, skipped) => {
        const from = Math.min(skipped, all.length)
        const rows = all.length - from
        const made = finish(joinBlock(textBlockOf(all), from, rows))
        const plain = finish(joinTexts(from, rows, row => all[row]))
        expect(made.starts).toEqual(plain.starts)
        expect(made.text.replace(/\n$/, '')).toBe(plain.text)
      }),
      runs(300),
    )
  })

  it('parts begin at whole words of bits', () => {
    expect(JOINED_ROWS % 32).toBe(0)
  })
})

describe('a search that grows by letters', () => {
  it('finds at every step what a fresh search finds', () => {
    const rows = Array.from({ length: 3000 }, (_, i) => ({
      t: `${i % 7 === 0 ? 'meadow' : 'field'} ${i} ${i % 11 === 0 ? 'sedge' : ''}`,
      n: i / 4,
    }))
    const table = finish(tableFromRows(rows))
    const indexOf = function* (place: number) {
      const field = table.fields[place]
      const shown = { field, column: table.columns[place], rows: table.rows, format: {}, show: shower(field) }
      return yield* buildShownIndex(shown, function* () {
        yield
        return null
      })
    }
    const search = new RowSearch(table.rows, indexOf, () => true)
    for (const typed of [
      's',
      'se',
      'sed',
      'sedg',
      'sedge',
      'sedge 14',
      'sedge 143',
      'edge',
      '74.2',
      '74.25',
      'mead 9',
    ]) {
      const words = typed.split(' ')
      const grown = finish(search.find(words, [0, 1].map(asColumn)))
      const fresh = finish(new RowSearch(table.rows, indexOf, () => true).find(words, [0, 1].map(asColumn)))
      expect([...grown]).toEqual([...fresh])
      const plain = rows.filter(row => words.every(w => row.t.includes(w) || row.n.toFixed(2).includes(w)))
      expect(countBits(grown)).toBe(plain.length)
    }
  })
})

describe('the CSV scanner', () => {
  const text = fc.string({
    unit: fc.constantFrom('a', 'b', ',', '"', '\n', '\r', '\r\n', ' '),
    maxLength: 40,
  })

  const scanIn = (bytes: Uint8Array, cuts: readonly number[]): string[][] | string => {
    const scanner = new Scanner(',')
    const found: string[][] = []
    const decode = new TextDecoder()
    let rest = new Uint8Array(0)
    let from = 0
    for (const to of [...cuts, bytes.length]) {
      const block = new Uint8Array([...rest, ...bytes.subarray(from, to)])
      from = to
      const records = new Records()
      const taken = scanner.scan(block, block.length, to === bytes.length, records)
      if (typeof taken !== 'number') return `${taken.code} ${taken.line}`
      for (let r = 0; r < records.count; r++) {
        const fields: string[] = []
        for (let f = records.firstField[r]; f < records.firstField[r + 1]; f++) {
          const field = decode.decode(block.subarray(records.starts[f], records.ends[f]))
          fields.push(records.how[f] === DOUBLED ? field.replaceAll('""', '"') : field)
        }
        found.push(fields)
      }
      rest = block.slice(taken)
    }
    return found
  }

  it('finds the same records however the bytes are cut into blocks', () => {
    fc.assert(
      fc.property(text, fc.array(fc.nat(40), { maxLength: 4 }), (csv, at) => {
        const bytes = new TextEncoder().encode(csv)
        const cuts = [...new Set(at.map(n => Math.min(n, bytes.length)))].sort((a, b) => a - b)
        expect(scanIn(bytes, cuts)).toEqual(scanIn(bytes, []))
      }),
      runs(1500),
    )
  })

  it('finds what a plain reader finds, character by character', () => {
    fc.assert(
      fc.property(text, csv => {
        const plain = plainRecords(csv)
        const found = scanIn(new TextEncoder().encode(csv), [])
        if (plain === null) expect(found).toMatch(/^unclosed-quote/)
        else expect(found).toEqual(plain)
      }),
      runs(1500),
    )
  })
})

/** RFC 4180 with the leniencies of our reader, one character at a time; null: a quote is never closed. */
function plainRecords(csv: string): string[][] | null {
  const records: string[][] = []
  let fields: string[] = []
  let i = 0
  let pending = false
  const endRecord = (): void => {
    if (fields.length !== 1 || fields[0] !== '' || quotedEmpty) records.push(fields)
    fields = []
    quotedEmpty = false
    pending = false
  }
  let quotedEmpty = false
  const isEnd = (c: string | undefined): boolean => c === undefined || c === ',' || c === '\n' || c === '\r'
  while (i < csv.length || pending) {
    let field = ''
    if (csv[i] === '"') {
      const open = i++
      for (;;) {
        if (i >= csv.length) return null
        if (csv[i] === '"' && csv[i + 1] === '"') {
          field += '"'
          i += 2
        } else if (csv[i] === '"') break
        else field += csv[i++]
      }
      i++
      if (!isEnd(csv[i])) {
        while (!isEnd(csv[i])) i++
        field = csv.slice(open, i)
      } else if (field === '') quotedEmpty = true
    } else while (!isEnd(csv[i])) field += csv[i++]
    fields.push(field)
    pending = false
    if (csv[i] === ',') {
      i++
      pending = true
      continue
    }
    if (csv[i] === '\r' && csv[i + 1] === '\n') i++
    i++
    endRecord()
  }
  return records
}

describe('tables larger than one slice', () => {
  const count = 300_000
  const rows = Array.from({ length: count }, (_, i) => ({
    k: (i * 7919) % 1000,
    w: ((i * 104_729) % 999_983) / 7,
    t: `t${(i * 31) % 97}`,
  }))
  const table = finish(tableFromRows(rows))
  const request = {
    conditions: {},
    search: '',
    searchColumns: ['t'],
    groups: [],
    open: { levels: null, except: [] },
  }

  it('are ordered as the language orders them', () => {
    const order = [
      { column: 't', direction: 'descending' as const },
      { column: 'w', direction: 'ascending' as const },
    ]
    const { view } = finish(new Flow(table).arrange({ ...request, order }))
    const plain = rows
      .map((_, i) => i)
      .sort((a, b) => (rows[a].t === rows[b].t ? rows[a].w - rows[b].w : rows[a].t < rows[b].t ? 1 : -1))
    // Texts of digits behind one letter: collation and code units agree on them here.
    const collator = new Intl.Collator()
    plain.sort((a, b) => collator.compare(rows[b].t, rows[a].t) || rows[a].w - rows[b].w || a - b)
    expect(view.rows!.length).toBe(count)
    expect([...view.rows!]).toEqual(plain)
  })

  it('are narrowed, searched and grouped over all slices', () => {
    const conditions = {
      k: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 100, to: 200 }] },
    }
    const { report, view } = finish(
      new Flow(table).arrange({ ...request, order: [], conditions, search: 't5', groups: [levelOf('t')] }),
    )
    const plain = rows.filter(row => row.k >= 100 && row.k <= 200 && row.t.includes('t5'))
    expect(report.passing).toBe(plain.length)
    expect(report.groups).toEqual([new Set(plain.map(row => row.t)).size])
    expect(view.groups!.levels[0].starts.at(-1)).toBe(plain.length)
  })

  it('come back from CSV as they were', async () => {
    const csv = 'k,w,t\n' + rows.map(({ k, w, t }) => `${k},${w},${t}`).join('\n')
    const read = await readFile(new Blob([csv]))
    if (!read.ok) throw new Error(read.problem.code)
    for (let row = 0; row < count; row += 997) {
      expect(read.table.columns.map(column => valueAt(column, row))).toEqual(Object.values(rows[row]))
    }
  })
})

describe('work in slices', () => {
  function* steps(count: number): Work<number> {
    for (let i = 0; i < count; i++) yield
    return count
  }

  it('comes to its end whoever runs it', async () => {
    expect(finish(steps(5))).toBe(5)
    expect(await runSliced(steps(5), { sliceMs: 0 })).toBe(5)
  })

  it('gives way to other tasks between slices', async () => {
    let hadTurn = false
    const timer = setTimeout(() => (hadTurn = true))
    /** Has no end as long as nobody else has a turn. */
    function* untilOthers(): Work<number> {
      for (let slices = 1; ; slices++) {
        if (hadTurn) return slices
        yield
      }
    }
    expect(await runSliced(untilOthers(), { sliceMs: 0 })).toBeGreaterThan(1)
    clearTimeout(timer)
  })

  it('ends as cancelled, and cleans up behind itself', async () => {
    let cleaned = false
    function* careful(): Work<void> {
      try {
        for (;;) yield
      } finally {
        cleaned = true
      }
    }
    let looks = 0
    await expect(runSliced(careful(), { cancelled: () => ++looks > 3 })).rejects.toBeInstanceOf(
      CancelledError,
    )
    expect(cleaned).toBe(true)
  })
})
