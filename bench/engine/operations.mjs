// Every operation of the engine beside its floor, over one table. Runs in Node and in a worker alike.
import { finish, Flow, readFile } from '../../packages/engine/dist/index.js'
import { checkExpression } from '../../packages/engine/dist/expression/check.js'
import { computeColumn } from '../../packages/engine/dist/expression/compute-column.js'
import { parseExpression } from '../../packages/engine/dist/expression/parser.js'
import { compare } from '../measure.mjs'
import * as bare from './bare.mjs'
import { bareColumns, COLUMNS, csvPieces, TEXTS, words } from './data.mjs'

/** Rows of the table that are read as CSV; the rivals read them all, so their figures are compared by the row. */
export const CSV_ROWS = 200_000

const NOTHING = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: COLUMNS,
  group: null,
  open: { all: true, except: [] },
}
const up = column => ({ column, direction: 'ascending' })
const down = column => ({ column, direction: 'descending' })
const all = part => ({ match: 'all', parts: [part] })

/**
 * Words that occur in notes; another one each round and, by `test`, in each operation, so that nothing kept from an
 * earlier one serves.
 */
const wordOf = (round, test = 0) => words[((round + 1) * 17 + 3 + test * 5) % words.length]

/** `only`: a pattern of operation names; others are left out. Returns figures by operation. */
export async function runOperations(table, { rounds = 7, only = '', log = () => {} } = {}) {
  const columns = bareColumns(table)
  const collator = new Intl.Collator()
  const n = table.rows
  const results = {}
  const note = async (name, floor, ours, more = {}) => {
    if (!new RegExp(only).test(name)) return
    results[name] = await compare({ floor, meadow: ours, ...more }, { rounds })
    log(`${name}: ${results[name].meadow.ratio}× of the floor (${results[name].meadow.median} ms)`)
  }
  /** A flow that knows nothing yet, so that each round starts cold. */
  const cold = request => finish(new Flow(table).arrange({ ...NOTHING, ...request }))

  await note(
    'order by a number with few decimals',
    () => {
      const { codes, size } = bare.scaledCodes(columns.cover, 100)
      bare.countingSort(codes, size)
    },
    () => cold({ order: [up('cover')] }),
  )
  await note(
    'order by an all-distinct number',
    () => bare.radixFloats(columns.biomass),
    () => cold({ order: [up('biomass')] }),
  )
  await note(
    'order by a 600-value text, collated',
    () => {
      const ranks = bare.ranksOf(columns.species.texts, collator)
      bare.countingSort(bare.remap(columns.species.codes, ranks), ranks.length)
    },
    () => cold({ order: [up('species')] }),
  )
  await note(
    'order by nearly all different texts, collated',
    () => bare.sortTexts(columns.note, collator),
    () => cold({ order: [up('note')] }),
  )
  await note(
    'order by three keys, mixed directions',
    () => {
      const cover = bare.scaledCodes(columns.cover, 100)
      const day = bare.scaledCodes(columns.day, 1)
      const ranks = bare.ranksOf(columns.species.texts, collator)
      let rows = bare.countingSort(cover.codes, cover.size, null, true)
      rows = bare.countingSort(day.codes, day.size, rows, true)
      bare.countingSort(bare.remap(columns.species.codes, ranks), ranks.length, rows)
    },
    () => cold({ order: [up('species'), down('day'), down('cover')] }),
  )

  const joined = bare.joinTexts(columns.note)
  const flow = new Flow(table)
  const warm = request => finish(flow.arrange({ ...NOTHING, ...request }))
  const started = performance.now()
  finish(flow.prepareSearch(COLUMNS))
  results['(search index built)'] = { meadow: { median: Math.round(performance.now() - started) } }

  const contains = text => all({ kind: 'contains', text })
  await note(
    'condition: text contains, nearly all values different',
    round => {
      const flags = new Uint8Array(n)
      bare.findJoined(joined, wordOf(round), flags)
      bare.rowsOf(flags)
    },
    round => warm({ conditions: { note: contains(wordOf(round)) } }),
  )
  await note(
    'condition: text contains, 600 values',
    round => {
      const flags = new Uint8Array(n)
      bare.findCoded(columns.species, wordOf(round).slice(0, 3), flags)
      bare.rowsOf(flags)
    },
    round => warm({ conditions: { species: contains(wordOf(round).slice(0, 3) + (round % 2 ? '' : '')) } }),
  )
  await note(
    'condition: number range and one of two texts',
    round => {
      const flags = new Uint8Array(n)
      const { codes, texts } = columns.state
      const hits = Uint8Array.from(texts, text => (text === 'seen' || text === 'confirmed' ? 1 : 0))
      for (let i = 0; i < n; i++)
        flags[i] = columns.cover[i] >= 20 + round && columns.cover[i] <= 40 && hits[codes[i]] ? 1 : 0
      bare.rowsOf(flags)
    },
    round => {
      // Both asked anew: the state's condition is lifted first, which is not measured apart.
      const cover = all({ kind: 'range', from: 20 + round, to: 40 })
      const values = round % 2 ? ['seen', 'confirmed'] : ['confirmed', 'seen']
      return warm({ conditions: { cover, state: all({ kind: 'one-of', values }) } })
    },
  )
  const searchBare = searched => {
    let found = null
    for (const word of searched) {
      const flags = new Uint8Array(n)
      for (const key of TEXTS) if (key !== 'note') bare.findCoded(columns[key], word, flags)
      bare.findJoined(joined, word, flags)
      if (found) for (let i = 0; i < n; i++) found[i] &= flags[i]
      else found = flags
    }
    bare.rowsOf(found)
  }
  await note(
    'search, one word, all columns',
    round => searchBare([wordOf(round)]),
    round => warm({ search: wordOf(round) }),
  )
  await note(
    'search, two words, all columns',
    round => searchBare([wordOf(round, 1), wordOf(round, 2)]),
    round => warm({ search: `${wordOf(round, 1)} ${wordOf(round, 2)}` }),
  )
  await note(
    'group by one column, counted',
    () => {
      const ranks = bare.ranksOf(columns.species.texts, collator)
      bare.countingSort(bare.remap(columns.species.codes, ranks), ranks.length)
    },
    () => cold({ group: 'species' }),
  )

  // Worked out over all rows, from the checked expression to the column; the text of it is read before.
  const computed = expression => {
    const parsed = parseExpression(expression)
    const { typed } = checkExpression(parsed.tree, table.fields)
    return () => finish(computeColumn(typed, table))
  }
  await note(
    'computed column: cover > 20.0 ? "dense" : "open"',
    () => {
      const codes = new Uint32Array(n)
      for (let i = 0; i < n; i++) codes[i] = columns.cover[i] > 20 ? 0 : 1
      return codes
    },
    computed('cover > 20.0 ? "dense" : "open"'),
  )
  await note(
    'computed column: (cover * 2.0 + biomass) / 3.0',
    () => {
      const out = new Float64Array(n)
      for (let i = 0; i < n; i++) out[i] = (columns.cover[i] * 2 + columns.biomass[i]) / 3
      return out
    },
    computed('(cover * 2.0 + biomass) / 3.0'),
  )
  await note(
    'computed column: species.upper() + " " + state',
    () => {
      const { species, state } = columns
      const known = new Map()
      const codes = new Uint32Array(n)
      const stride = state.texts.length
      for (let i = 0; i < n; i++) {
        const pair = species.codes[i] * stride + state.codes[i]
        let code = known.get(pair)
        if (code === undefined) known.set(pair, (code = known.size))
        codes[i] = code
      }
      return codes
    },
    computed('species.upper() + " " + state'),
  )

  if (only) return results
  // What changes little must cost little: each beside the whole.
  results['one letter more in a search'] = await compare(
    {
      first: round => warm({ search: wordOf(round).slice(0, 4) }),
      more: round => {
        warm({ search: wordOf(round).slice(0, 5) })
      },
    },
    { rounds },
  )
  const conditions = { cover: all({ kind: 'range', from: 20 }), note: contains('ska') }
  results['condition lifted'] = await compare(
    {
      first: round =>
        warm({
          conditions: {
            cover: all({ kind: 'range', from: 20 + round / 100 }),
            note: contains(wordOf(round)),
          },
        }),
      lifted: round => warm({ conditions: { cover: all({ kind: 'range', from: 20 + round / 100 }) } }),
    },
    { rounds },
  )
  results['group opened'] = await compare(
    {
      first: round =>
        cold({
          group: 'species',
          conditions: { cover: conditions.cover },
          open: { all: false, except: [round] },
        }),
      opened: round => warm({ group: 'species', open: { all: false, except: [words[round + 2]] } }),
    },
    { rounds },
  )

  // Reading: the floor only splits bytes into fields; types, dictionaries and numbers are ours.
  const blob = new Blob([...csvPieces({ ...table, rows: Math.min(n, CSV_ROWS) })])
  const bytes = new Uint8Array(await blob.arrayBuffer())
  results['read CSV'] = await compare(
    {
      floor: () => {
        let fields = 0
        for (let i = 0; i < bytes.length; i++) if (bytes[i] === 44 || bytes[i] === 10) fields++
        return fields
      },
      meadow: async () => {
        const read = await readFile(blob)
        if (!read.ok) throw new Error(read.problem.code)
      },
    },
    { rounds: Math.min(rounds, 5) },
  )
  results['read CSV'].megabytes = bytes.length / 1e6
  log(`read CSV: ${(bytes.length / 1e3 / results['read CSV'].meadow.median).toFixed(0)} MB/s`)
  return results
}
