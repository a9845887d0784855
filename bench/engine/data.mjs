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

export const recipe = rows => ({
  name: 'bench',
  rows,
  seed: 42,
  columns: [
    { key: 'id', kind: 'count', start: 1 },
    { key: 'species', kind: 'compose', parts: [words.slice(0, 30), words.slice(100, 120)], lean: 2 },
    { key: 'site', kind: 'pick', of: words.slice(60, 100), lean: 2 },
    { key: 'state', kind: 'pick', of: ['seen', 'confirmed', 'doubtful', 'withdrawn'], lean: 2 },
    { key: 'note', kind: 'remark', words, least: 3, most: 12 },
    { key: 'cover', kind: 'number', from: 0, to: 100, decimals: 2 },
    { key: 'biomass', kind: 'number', from: 0, to: 1000, decimals: 9 },
    { key: 'count', kind: 'number', from: 0, to: 500, lean: 3 },
    { key: 'day', kind: 'date', from: '2013-01-01', to: '2024-12-31' },
    { key: 'seen', kind: 'yes-no', yes: 0.6 },
  ],
})

export const TEXTS = ['species', 'site', 'state', 'note']
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
      const strings = Array.from({ length: table.rows }, (_, row) => valueAt(column, row))
      if (column.kind !== 'coded') return [field.key, strings]
      const texts = Array.from({ length: column.texts.offsets.length - 1 }, () => '')
      column.codes.forEach((code, row) => (texts[code] ||= strings[row]))
      return [field.key, { codes: column.codes, texts, strings }]
    }),
  )
}

const pad = n => String(n).padStart(2, '0')
const isoDay = day => {
  const date = new Date(day * 864e5)
  return `${date.getUTCFullYear()}-${pad(date.getUTCMonth() + 1)}-${pad(date.getUTCDate())}`
}

/** The table as CSV, in pieces. */
export function* csvPieces(table, batch = 20_000) {
  yield COLUMNS.join(',') + '\n'
  for (let from = 0; from < table.rows; from += batch) {
    let text = ''
    for (let row = from; row < Math.min(table.rows, from + batch); row++) {
      text += table.columns
        .map((column, i) =>
          COLUMNS[i] === 'day' ? isoDay(valueAt(column, row)) : String(valueAt(column, row)),
        )
        .join(',')
      text += '\n'
    }
    yield text
  }
}
