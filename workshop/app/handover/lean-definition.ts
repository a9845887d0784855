import { arrangementFor, readDefinition, type ColumnDefinition, type Definition } from '@vast-meadow/engine'

type Json = Readonly<Record<string, unknown>>

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/** What differs from the defaults, at any depth of objects; what is a list is whole. */
function differing(value: Json, usual: Json): Json {
  const parts = Object.entries(value).filter(([name, part]) => part !== undefined && !same(part, usual[name]))
  return Object.fromEntries(
    parts.map(([name, part]) => {
      const other = usual[name]
      // Kinds of one thing have other parts each: they stay whole.
      const apart = isObject(part) && isObject(other) && !('kind' in part)
      return [name, apart ? differing(part, other) : part]
    }),
  )
}

/** A definition of one column, as it is read: what it does not say has its default. */
function usualWith(column: Json): Definition | null {
  const { format, version } = FORM
  const read = readDefinition({ format, version, title: '', columns: [{ key: 'k', title: '', ...column }] })
  return read.ok ? read.definition : null
}
const FORM = { format: 'vast-meadow-grid', version: 3 } as const

/** What a column says beyond its key and title. */
function leanColumn(column: ColumnDefinition, usual: ColumnDefinition): Json {
  const { key, title } = column
  const { cell, edit, ...rest } = differing(column, { ...usual, key, title })
  const kind = column.cell.kind
  const usualCell = usualWith({ cell: { kind } })?.columns[0].cell
  const usualEdit = usualWith({ edit: {} })?.columns[0].edit
  return {
    key,
    title,
    ...rest,
    ...(cell === undefined
      ? {}
      : { cell: usualCell ? { kind, ...differing(column.cell, usualCell) } : cell }),
    ...(edit === undefined
      ? {}
      : { edit: column.edit && usualEdit ? differing(column.edit, usualEdit) : edit }),
  }
}

/** A definition as a person would write it: only what it must say, and what differs from the defaults. */
export function leanDefinition(definition: Definition): Json {
  const { format, version, title, key, columns, start } = definition
  const usual = usualWith({})
  if (!usual) return { ...definition }
  const begun = arrangementFor({ ...definition, start: {} })
  const lean: Json = {
    format,
    version,
    ...(title === '' ? {} : { title }),
    ...differing(definition, usual),
    ...(key.length === 1 ? { key: key[0] } : {}),
    columns: columns.map(column => leanColumn(column, usual.columns[0])),
    start: differing(start, begun),
  }
  return Object.fromEntries(Object.entries(lean).filter(([, part]) => !same(part, {})))
}
