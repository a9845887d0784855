// The bench's table: a part of the survey, made from a recipe, and the same columns as bare arrays.
import { finish, makeTable, recipeSchema, valueAt } from '../../packages/engine/dist/index.js'

const syllables = [
  'ba',
  'cle',
  'dor',
  'fen',
  'gra',
  'hol',
  'ing',
  'kem',
  'lau',
  'mor',
  'nes',
  'pra',
  'quo',
  'ris',
  'ske',
  'tho',
]
export const words = syllables.flatMap(a => syllables.map(b => a + b))

const number = (key, from, to, decimals, more = {}) => ({ key, kind: 'number', from, to, decimals, ...more })

/** 24 columns: texts that recur and texts that do not, measured and counted numbers, days, moments. */
export const recipe = rows => ({
  name: 'bench',
  rows,
  seed: 42,
  columns: [
    { key: 'id', kind: 'count', start: 100_000 },
    { key: 'species', kind: 'compose', parts: [words.slice(0, 30), words.slice(100, 120)], lean: 2 },
    { key: 'site', kind: 'pick', of: words.slice(60, 100), lean: 2 },
    { key: 'plot', kind: 'within', column: 'site', count: 50, between: '-' },
    { key: 'observer', kind: 'compose', parts: [words.slice(120, 150), words.slice(150, 180)] },
    { key: 'state', kind: 'pick', of: ['seen', 'confirmed', 'doubtful', 'withdrawn'], lean: 2 },
    { key: 'note', kind: 'remark', words, least: 3, most: 12 },
    number('count', 0, 500, 0, { lean: 3 }),
    number('cover', 0, 100, 2),
    number('height', 5, 95, 1, { lean: 2, missing: 0.03 }),
    number('ph', 4, 8.5, 2),
    number('temperature', -2, 30, 1),
    number('latitude', 50, 58, 5),
    number('longitude', -6, 2, 5),
    { key: 'day', kind: 'date', from: '2013-01-01', to: '2024-12-31' },
    { key: 'recorded', kind: 'time', from: '2013-01-01', to: '2024-12-31' },
    { key: 'seen', kind: 'yes-no', yes: 0.6 },
    number('humidity', 30, 100, 1),
    number('wind', 0, 18, 1, { lean: 2 }),
    number('moisture', 0, 1, 3),
    number('light', 0, 110, 2),
    number('elevation', 0, 900, 0, { lean: 2 }),
    number('slope', 0, 40, 1),
    number('biomass', 0, 1000, 9, { lean: 2 }),
  ],
})

export const TEXTS = ['species', 'site', 'plot', 'observer', 'state', 'note']
/** Numbers and moments of which nearly all differ. */
export const WRITTEN = ['id', 'latitude', 'longitude', 'biomass', 'recorded']
/** Four digits to be searched for; others in each round. */
export const digitsOf = round => String(4210 + round * 37)
export const COLUMNS = recipe(0).columns.map(column => column.key)

export function buildTable(rows) {
  return finish(makeTable(recipeSchema.parse(recipe(rows))))
}

/** The table's columns as a plain program would hold them: arrays of values, codes with a list of texts. */
export function bareColumns(table) {
  return Object.fromEntries(
    table.fields.map((field, i) => {
      const column = table.columns[i]
      if (column.kind === 'number') return [field.key, column.values]
      if (column.kind !== 'coded')
        return [field.key, Array.from({ length: table.rows }, (_, row) => valueAt(column, row))]
      const texts = Array.from({ length: column.texts.offsets.length - 1 }, () => '')
      for (let row = 0; row < table.rows; row++) texts[column.codes[row]] ||= valueAt(column, row)
      return [field.key, { codes: column.codes, texts }]
    }),
  )
}

const iso = (ms, length) => new Date(ms).toISOString().slice(0, length)
const writers = {
  day: day => iso(day * 864e5, 10),
  recorded: ms => iso(ms, 19) + 'Z',
  height: value => (value === null ? '' : String(value)),
}

/** The table as CSV, in pieces. */
export function* csvPieces(table, batch = 20_000) {
  yield COLUMNS.join(',') + '\n'
  const write = COLUMNS.map(key => writers[key] ?? String)
  for (let from = 0; from < table.rows; from += batch) {
    let text = ''
    for (let row = from; row < Math.min(table.rows, from + batch); row++) {
      text += table.columns.map((column, i) => write[i](valueAt(column, row))).join(',')
      text += '\n'
    }
    yield text
  }
}
