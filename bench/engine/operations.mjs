// Every operation of the engine beside its floor, over one table. Runs in Node and in a worker alike.
import { bytesOf, finish, Flow, readFile } from '../../packages/engine/dist/index.js'
import { checkExpression } from '../../packages/engine/dist/expression/check.js'
import { computeColumn } from '../../packages/engine/dist/expression/compute-column.js'
import { parseExpression } from '../../packages/engine/dist/expression/parser.js'
import { EditableTable } from '../../packages/engine/dist/edit/editable-table.js'
import { columnIndexesOf, valueAt } from '../../packages/engine/dist/table/column.js'
import { textWriter, writeRows } from '../../packages/engine/dist/export/cell-writer.js'
import { compactRows } from '../../packages/engine/dist/selection/row-set.js'
import { TickedRows } from '../../packages/engine/dist/selection/ticked-rows.js'
import { emptyBits, hasBit, setBit } from '../../packages/engine/dist/table/bits.js'
import { bitsOfPacked } from '../../packages/engine/dist/table/packed-rows.js'
import { ViewReader } from '../../packages/engine/dist/flow/view.js'
import { shower } from '../../packages/engine/dist/table/shown-text.js'
import { facetsOf } from '../../packages/engine/dist/question/facets.js'
import { ColumnCodes } from '../../packages/engine/dist/order/column-codes.js'
import { GroupBase } from '../../packages/engine/dist/group/group-base.js'
import { GroupSummaries } from '../../packages/engine/dist/group/group-summaries.js'
import { combineLevels, treeOf } from '../../packages/engine/dist/group/group-tree.js'
import { levelOf } from '../../packages/engine/dist/group/level.js'
import { sharedMemory } from '../../packages/engine/dist/table/allocate.js'
import { compare, round3 } from '../measure.mjs'
import * as bare from './bare.mjs'
import { bareColumns, COLUMNS, csvPieces, digitsOf, TEXTS, words, WRITTEN } from './data.mjs'

/** Rows of the table that are read as CSV, and written; the rivals take them all, so their figures are compared by the row. */
export const CSV_ROWS = { 'read CSV': 1_000_000, 'write CSV': 200_000 }

const NOTHING = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: COLUMNS,
  groups: [],
  open: { levels: null, except: [] },
}
const up = column => ({ column, direction: 'ascending' })
const down = column => ({ column, direction: 'descending' })
const all = part => ({ match: 'all', parts: [part] })

/**
 * Words that occur in notes; another one each round and, by `test`, in each operation, so that nothing kept from an
 * earlier one serves.
 */
const wordOf = (round, test = 0) => words[((round + 1) * 17 + 3 + test * 5) % words.length]

const timeOf = run => {
  const started = performance.now()
  run()
  return Math.round(performance.now() - started)
}

/** What the joined texts of a flow's search take, at a byte a character; other indexes are lists of distinct texts. */
function searchBytes(flow) {
  let bytes = 0
  for (const index of flow.predicates.indexes.values())
    if (index.kind === 'joined')
      for (const { text, starts } of index.parts) bytes += text.length + starts.byteLength
  return bytes
}

/**
 * `only`: a pattern of operation names; others are left out. `helpers`: threads that share the table's memory, `readers`:
 * those that help to read; what they gain is measured apart. Returns figures by operation.
 */
export async function runOperations(
  table,
  { rounds = 7, only = '', helpers = [], readers = helpers, log = () => {} } = {},
) {
  const columns = bareColumns(table)
  const collator = new Intl.Collator()
  const n = table.rows
  const results = {}
  /** `helped`: the same with the helpers, where there are any. */
  const note = async (name, floor, ours, helped = null) => {
    if (!new RegExp(only).test(name)) return
    const variants = { floor, meadow: ours }
    if (helped && helpers.length > 0) variants.helped = helped
    results[name] = await compare(variants, { rounds })
    const { meadow, helped: with2 } = results[name]
    log(
      `${name}: ${meadow.ratio}× of the floor (${meadow.median} ms${with2 ? `, helped ${with2.median}` : ''})`,
    )
  }
  /** A flow that knows nothing yet, so that each round starts cold. */
  const cold = (request, tools) => finish(new Flow(table, null, tools).arrange({ ...NOTHING, ...request }))
  const together = { pattern: null, own: {}, helpers }

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
  // Where letters do not weigh one by one, every comparison is the collator's.
  if (n <= 1_000_000) {
    const czech = new Intl.Collator('cs')
    const inCzech = tools => {
      const flow = new Flow(table, null, tools)
      flow.bind({}, 'cs')
      finish(flow.arrange({ ...NOTHING, order: [up('note')] }))
    }
    await note(
      'order by nearly all different texts, in Czech',
      () => {
        const texts = columns.note
        Uint32Array.from(texts.keys()).sort((a, b) => czech.compare(texts[a], texts[b]) || a - b)
      },
      () => inCzech(),
      () => inCzech(together),
    )
  }
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
  const built = { meadow: { median: timeOf(() => finish(flow.prepareSearch(COLUMNS))) } }
  results['(search index built)'] = built
  results['(bytes a row)'] = { table: round3(bytesOf(table) / n), search: round3(searchBytes(flow) / n) }
  const split = helpers.length > 0 ? new Flow(table, null, together) : null
  const warmSplit = request => finish(split.arrange({ ...NOTHING, ...request }))
  // A search for what every column may hold has all indexes built, the helpers' too.
  if (split) built.helped = { median: timeOf(() => warmSplit({ search: '1' })) }

  const contains = text => all({ kind: 'contains', text })
  /** Both asked anew: each round other values, or the same in another order. */
  const rangeAndTexts = round => {
    const cover = all({ kind: 'range', from: 20 + round, to: 40 })
    const values = round % 2 ? ['seen', 'confirmed'] : ['confirmed', 'seen']
    return { conditions: { cover, state: all({ kind: 'one-of', values }) } }
  }
  await note(
    'condition: text contains, nearly all values different',
    round => {
      const flags = new Uint8Array(n)
      bare.findJoined(joined, wordOf(round), flags)
      bare.rowsOf(flags)
    },
    round => warm({ conditions: { note: contains(wordOf(round)) } }),
    round => warmSplit({ conditions: { note: contains(wordOf(round)) } }),
  )
  await note(
    'condition: text contains, 600 values',
    round => {
      const flags = new Uint8Array(n)
      bare.findCoded(columns.species, wordOf(round).slice(0, 3), flags)
      bare.rowsOf(flags)
    },
    round => warm({ conditions: { species: contains(wordOf(round).slice(0, 3)) } }),
    round => warmSplit({ conditions: { species: contains(wordOf(round).slice(0, 3)) } }),
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
    round => warm(rangeAndTexts(round)),
    round => warmSplit(rangeAndTexts(round)),
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
  const searches = [
    ['one word', (round, test) => [wordOf(round, test)]],
    ['two words', (round, test) => [wordOf(round, test), wordOf(round, test + 3)]],
  ]
  let test = 0
  for (const [columnsSearched, searchColumns] of [
    ['text columns', TEXTS],
    ['all columns as shown', COLUMNS],
  ]) {
    for (const [howMany, wordsOf] of searches) {
      const words = round => wordsOf(round, test)
      const request = round => ({ search: words(round).join(' '), searchColumns })
      await note(
        `search, ${howMany}, ${columnsSearched}`,
        round => searchBare(words(round)),
        round => warm(request(round)),
        round => warmSplit(request(round)),
      )
      test++
    }
  }
  // What a plain program would do with numbers that are nearly all different: write them, and look through what is written.
  const shown = WRITTEN.map(key => {
    const place = COLUMNS.indexOf(key)
    const show = shower(table.fields[place])
    return bare.joinTexts(Array.from({ length: n }, (_, row) => show(valueAt(table.columns[place], row))))
  })
  await note(
    'search, four digits, numbers and moments',
    round => {
      const flags = new Uint8Array(n)
      for (const texts of shown) bare.findJoined(texts, digitsOf(round), flags)
      bare.rowsOf(flags)
    },
    round => warm({ search: digitsOf(round), searchColumns: WRITTEN }),
    round => warmSplit({ search: digitsOf(round), searchColumns: WRITTEN }),
  )
  await note(
    'group by one column, rows gathered',
    () => {
      const ranks = bare.ranksOf(columns.species.texts, collator)
      bare.countingSort(bare.remap(columns.species.codes, ranks), ranks.length)
    },
    () => cold({ groups: [levelOf('species')] }),
  )

  // Codes are there from ordering or grouping by the columns; they are as much an index as the floor's.
  const codes = new ColumnCodes(table, undefined, () => String)
  const codesOf = keys => keys.map(key => finish(codes.of(COLUMNS.indexOf(key))))
  /** What a column comes to in the groups of several levels, from codes that are there. */
  const summed = (keys, column, wanted) => {
    const parts = codesOf(keys)
    const base = new GroupBase(table, codes, finish(combineLevels(parts, n)), null, { own: {}, formulas: [] })
    const tree = finish(treeOf(base.levels, finish(base.counts())))
    const summaries = new GroupSummaries(tree, base)
    const place = COLUMNS.indexOf(column)
    return wanted.map(summary => finish(summaries.of(keys.length - 1, place, summary, null)))
  }
  const FIVE = ['present', 'sum', 'minimum', 'maximum', 'mean']
  await note(
    'group by one, five summaries',
    () => bare.fiveSummaries(columns.species.codes, columns.species.texts.length, columns.cover),
    () => summed(['species'], 'cover', FIVE),
  )
  await note(
    'group by two, five summaries',
    () => {
      const { species, site } = columns
      const codes = new Uint32Array(n)
      const b = site.texts.length
      for (let i = 0; i < n; i++) codes[i] = species.codes[i] * b + site.codes[i]
      bare.fiveSummaries(codes, species.texts.length * b, columns.cover)
    },
    () => summed(['species', 'site'], 'cover', FIVE),
  )
  await note(
    'group by three, five summaries',
    () => {
      const { species, site, state } = columns
      const codes = new Uint32Array(n)
      const [b, c] = [site.texts.length, state.texts.length]
      for (let i = 0; i < n; i++) codes[i] = (species.codes[i] * b + site.codes[i]) * c + state.codes[i]
      bare.fiveSummaries(codes, species.texts.length * b * c, columns.cover)
    },
    () => summed(['species', 'site', 'state'], 'cover', FIVE),
  )
  const cover = bare.scaledCodes(columns.cover, 100)
  await note(
    'median by group',
    () =>
      bare.countingSort(
        columns.species.codes,
        columns.species.texts.length,
        bare.countingSort(cover.codes, cover.size),
      ),
    () => summed(['species'], 'cover', ['median']),
  )
  await note(
    'distinct values by group',
    () => {
      const { site, observer } = columns
      const values = observer.texts.length
      const seen = new Uint8Array(site.texts.length * values)
      for (let i = 0; i < n; i++) seen[site.codes[i] * values + observer.codes[i]] = 1
      const counts = new Uint32Array(site.texts.length)
      for (let i = 0; i < seen.length; i++) counts[Math.floor(i / values)] += seen[i]
    },
    () => summed(['site'], 'observer', ['distinct']),
  )
  await note(
    'values with counts under a condition',
    round => {
      const { species, state } = columns
      const wanted = state.texts.indexOf('seen')
      const counts = new Uint32Array(species.texts.length)
      const from = 20 + round / 100
      for (let i = 0; i < n; i++)
        if (columns.cover[i] >= from && state.codes[i] === wanted) counts[species.codes[i]]++
    },
    round => {
      const conditions = {
        cover: all({ kind: 'range', from: 20 + round / 100 }),
        state: all({ kind: 'equals', value: 'seen' }),
      }
      return finish(facetsOf(flow, { ...NOTHING, conditions }, 'species', { limit: 50 }))
    },
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

  // What changes little must cost little: each beside the whole.
  const change = async (name, variants) => {
    if (variants && new RegExp(only).test(name)) results[name] = await compare(variants, { rounds })
  }
  await change('one letter more in a search', {
    first: round => warm({ search: wordOf(round, 7).slice(0, 4) }),
    more: round => warm({ search: wordOf(round, 7).slice(0, 5) }),
  })
  await change(
    'one letter more, by two threads',
    split && {
      first: round => warmSplit({ search: wordOf(round, 7).slice(0, 4) }),
      more: round => warmSplit({ search: wordOf(round, 7).slice(0, 5) }),
    },
  )
  const narrowed = round => ({ cover: all({ kind: 'range', from: 20 + round / 100 }) })
  await change('condition lifted', {
    first: round => warm({ conditions: { ...narrowed(round), note: contains(wordOf(round)) } }),
    lifted: round => warm({ conditions: narrowed(round) }),
  })
  await change('group opened', {
    first: round =>
      cold({ groups: [levelOf('species')], conditions: narrowed(0), open: { levels: 0, except: [[round]] } }),
    opened: round =>
      warm({ groups: [levelOf('species')], open: { levels: 0, except: [[words[round + 2]]] } }),
  })
  // The whole is worked out by a flow that knows nothing; the change by one that knew how the rows were before.
  const edited = async (name, column, request) => {
    const edits = new EditableTable(table)
    const known = new Flow(table)
    const place = table.fields.findIndex(({ key }) => key === column)
    finish(known.arrange({ ...NOTHING, ...request }))
    await change(name, {
      first: () => cold(request),
      changed: round => {
        const cells = new Map()
        for (let i = 0; i < 100; i++) {
          const row = (i * 9973 + round * 131) % n
          cells.set(row, valueAt(table.columns[place], (row * 7 + i) % n))
        }
        const touched = finish(edits.setCells(new Map([[place, cells]])))
        const { table: now, absent } = edits
        finish(known.update({ table: now, absent, touched, appendedFrom: n, reshaped: false }))
        finish(known.arrange({ ...NOTHING, ...request }))
      },
    })
  }
  const month = levelOf('day', { bucket: { by: 'date', part: 'month', every: false } })
  const bySite = { groups: [levelOf('site'), month] }
  await edited('a hundred cells changed, grouped by two others', 'biomass', bySite)
  await edited('a hundred cells changed that make groups', 'day', bySite)
  await edited('a hundred cells changed that order grouped rows', 'cover', {
    groups: [levelOf('site')],
    order: [down('cover')],
  })
  // A group for every row: opened and closed by levels and one by one.
  if (n <= 1_000_000) {
    const single = { groups: [levelOf('id')] }
    const grown = new Flow(table)
    const asked = open => finish(grown.arrange({ ...NOTHING, ...single, open }))
    await change(`${n.toLocaleString('en')} groups opened and closed`, {
      first: () => cold(single),
      opened: round =>
        asked({ levels: round % 2, except: Array.from({ length: 8 }, (_, i) => [100_000 + i * 17 + round]) }),
    })
  }
  // Ticking all that pass, three taken out, and how many of them pass: the floor sets a bit a row and counts them.
  const half = finish(
    flow.arrange({ ...NOTHING, conditions: { cover: all({ kind: 'above', value: 50 }) } }),
  ).view
  await note(
    'tick all of half the rows, and count them',
    () => {
      const bits = new Uint32Array((n + 31) >>> 5)
      for (const row of half.rows) bits[row >>> 5] |= 1 << (row & 31)
      let count = 0
      for (const row of half.rows) count += (bits[row >>> 5] >>> (row & 31)) & 1
      return count
    },
    () => {
      const rows = compactRows({ kind: 'list', rows: half.rows })
      const ticked = new TickedRows()
      ticked.tickAll({}, rows)
      ticked.delete({ kind: 'list', rows: half.rows.subarray(0, 3) })
      const bits = bitsOfPacked(table, ticked.known.packed())
      let count = 0
      for (const row of half.rows) if (hasBit(bits, row)) count++
      return count
    },
  )
  await note(
    'select all rows',
    () => new Uint32Array((n + 31) >>> 5).fill(0xffffffff).length,
    () => {
      const ticked = new TickedRows()
      ticked.tickAll({}, { kind: 'run', from: 0, to: n })
      return ticked.known.size
    },
  )
  // A quarter of the rows in four columns of numbers: a million cells of a million rows.
  const pickedRows = Math.floor(n / 4)
  const numbers = table.fields
    .map(({ key, type }, place) => ({ key, type, place }))
    .filter(({ type }) => type === 'number' || type === 'integer')
    .slice(0, 4)
  const picked = emptyBits(n)
  for (let row = 0; row < pickedRows; row++) setBit(picked, row)
  await note(
    'a range of a cell for each row, summed up in four columns',
    () => {
      let total = 0
      for (const { place } of numbers) {
        const { values } = table.columns[place]
        let sum = 0
        for (let row = 0; row < pickedRows; row++) sum += values[row]
        total += sum
      }
      return total
    },
    () => {
      const flow = new Flow(table)
      const summaries = finish(flow.summariesAmong(picked))
      let total = 0
      for (const { place } of numbers) total += finish(summaries.of(-1, place, 'sum', () => [])).numbers[0]
      return total
    },
  )
  const copiedRows = Math.floor(n / COLUMNS.length)
  const showers = table.fields.map(field => shower(field))
  const reader = new ViewReader(table, showers, columnIndexesOf(table.fields), {
    rows: null,
    rowCount: n,
    groups: null,
  })
  await note(
    'a cell for each row copied as text',
    () => {
      let length = 0
      for (const piece of csvPieces({ ...table, rows: copiedRows })) length += piece.length
      return length
    },
    () => {
      const lines = []
      for (let row = 0; row < copiedRows; row++) {
        const { row: id } = reader.line(row)
        const cells = []
        for (const column of COLUMNS) cells.push(reader.text(id, column))
        lines.push(cells.join('\t'))
      }
      return lines.join('\n').length
    },
  )
  // The floor only looks for the ends of fields; types, dictionaries and numbers are ours.
  async function readCsv() {
    const blob = new Blob([...csvPieces({ ...table, rows: Math.min(n, CSV_ROWS['read CSV']) })])
    const bytes = new Uint8Array(await blob.arrayBuffer())
    const read = async call => {
      const result = await readFile(blob, {}, call)
      if (!result.ok) throw new Error(result.problem.code)
    }
    results['read CSV'] = await compare(
      {
        floor: () => {
          let fields = 0
          for (let i = 0; i < bytes.length; i++) if (bytes[i] === 44 || bytes[i] === 10) fields++
          return fields
        },
        meadow: () => read({}),
        ...(readers.length > 0 && {
          helped: () => read({ allocate: sharedMemory, helpers: async () => readers }),
        }),
      },
      { rounds: Math.min(rounds, 3), slowMs: 20_000 },
    )
    results['read CSV'].megabytes = bytes.length / 1e6
    const { meadow, helped } = results['read CSV']
    const speed = figure => (bytes.length / 1e3 / figure.median).toFixed(0)
    log(
      `read CSV: ${speed(meadow)} MB/s${helped ? `, ${speed(helped)} by ${readers.length + 1} threads` : ''}`,
    )
  }

  if (only && !new RegExp(only).test('read CSV')) return results
  await readCsv()
  if (only) return results

  // Writing: the floor joins the same values with commas and looks at nothing.
  const written = { ...table, rows: Math.min(n, CSV_ROWS['write CSV']) }
  const shows = table.fields.map(field => shower(field))
  const writer = textWriter(
    table.fields.map((field, i) => ({ field, column: table.columns[i], show: shows[i] })),
    { format: 'csv', values: 'raw' },
  )
  const encoder = new TextEncoder()
  let writtenBytes = 0
  results['write CSV'] = await compare(
    {
      floor: () => {
        let length = 0
        for (const piece of csvPieces(written)) length += encoder.encode(piece).length
        return length
      },
      meadow: () => {
        let length = 0
        for (let from = 0; from < written.rows; from += 2000) {
          const rows = Array.from({ length: Math.min(written.rows, from + 2000) - from }, (_, i) => from + i)
          length += encoder.encode(finish(writeRows(writer, rows)).join('')).length
        }
        writtenBytes = length
        return length
      },
    },
    { rounds: Math.min(rounds, 5) },
  )
  results['write CSV'].megabytes = writtenBytes / 1e6
  log(`write CSV: ${(writtenBytes / 1e3 / results['write CSV'].meadow.median).toFixed(0)} MB/s`)
  return results
}
