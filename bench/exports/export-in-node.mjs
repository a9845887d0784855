// Exports of the built engine in Node, in the parts in which the grid asks for them.
import { PageSource } from '../../packages/engine/dist/source/page-source.js'
import { readFile } from '../../packages/engine/dist/index.js'
import {
  packNow,
  styleNumbers,
  workbookFiles,
  zipStream,
} from '../../packages/engine/dist/export/workbook-file.js'

const BATCH = ['parquet', 'arrow']

/** Rows as objects become a table as if they had been read from lines of JSON. */
export async function openRows(rows) {
  const read = await readFile(new Blob([rows.map(row => JSON.stringify(row)).join('\n')]))
  if (!read.ok) throw new Error(JSON.stringify(read.problem))
  return await openTable(read.table)
}

export async function openTable(table) {
  const source = new PageSource({ kind: 'table', table }, [], {}, {})
  await source.open()
  return source
}

/** A file's parts, one after another. */
export async function* exportParts(source, { format, columns, neutral }) {
  const request = {
    order: [],
    conditions: {},
    search: '',
    searchColumns: [],
    groups: [],
    open: { levels: null, except: [] },
  }
  const view = await source.view(request)
  const asked = {
    view: view.id,
    rows: { kind: 'passing' },
    columns: columns.map(key => ({ key, title: key })),
  }
  if (BATCH.includes(format)) {
    const batches = []
    let [at, rows, fields] = [0, 0, []]
    for (let from = 0, places = 1; from < places; from += 32_768) {
      const told = await source.ask('exportBatch', {
        ...asked,
        from,
        to: from + 32_768,
        format,
        values: 'raw',
        begins: from === 0,
      })
      batches.push({ at: at + told.head, told: told.told })
      at += told.bytes.length
      rows += told.rows
      ;({ places, fields } = told)
      yield told.bytes
    }
    yield await source.ask('exportEnd', { format, fields, batches, rows })
    return
  }
  const encoder = new TextEncoder()
  const step = Math.floor(40_000 / columns.length)
  async function* texts(rules) {
    let begun = false
    for (let from = 0, places = 1; from < places; from += step) {
      const told = await source.ask('exportText', { ...asked, from, to: from + step, rules })
      places = told.places
      yield encoder.encode(rules.format === 'json' ? `${begun ? ',' : ''}\n${told.text}` : told.text)
      begun = true
    }
  }
  if (format !== 'xlsx') {
    if (format === 'json') yield encoder.encode('[')
    yield* texts({ format, values: 'raw', ...(neutral !== undefined && { neutral }) })
    if (format === 'json') yield encoder.encode(']')
    return
  }
  const fields = columns.map(key => view.fields.find(field => field.key === key))
  const workbook = {
    name: 'Rows',
    columns: fields.map(field => ({ title: field.key, field, format: {}, width: 120 })),
    pinned: 0,
    levels: 0,
    asShown: false,
  }
  const files = workbookFiles(workbook)
  const sheet = styleNumbers(workbook).map(style => ({ format: {}, style }))
  async function* content() {
    let { crc, ...begin } = packNow(files.before)
    yield { crc, ...begin }
    for (let from = 0, places = 1; from < places; from += step) {
      const told = await source.ask('exportSheet', {
        ...asked,
        from,
        to: from + step,
        values: 'raw',
        sheet,
        crc,
      })
      ;({ places, crc } = told)
      yield told
    }
    yield packNow(files.after, crc)
  }
  const others = Object.entries(files.others).map(([name, text]) => ({ name, content: text }))
  yield* zipStream([...others, { name: files.sheet, content: content() }])
}

/** The whole file. */
export async function exportBytes(source, options) {
  const parts = []
  for await (const part of exportParts(source, options)) parts.push(part)
  return Buffer.concat(parts)
}
