import {
  arrangementFor,
  readDefinition,
  type ColumnDefinition,
  type Definition,
  type Level,
} from '@vast-meadow/engine'
import { keepNewest } from '@vast-meadow/engine/client'

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

const FORM = { format: 'vast-meadow-grid', version: 3 } as const
const COLUMN = { key: 'k', title: '' } as const

/** A small definition as it is read: what it does not say has its default. */
function readSmall(more: Json): Definition | null {
  const read = readDefinition({ ...FORM, title: '', columns: [COLUMN], ...more })
  return read.ok ? read.definition : null
}

/** Parts that were lessened, by where they stand and what they say: columns often say the same. */
const lessened = new Map<string, unknown>()
const MOST_LESSENED = 500
/** Longer parts would be tried for too long: they stay whole. */
const MOST_TRIED = 6000

/** A part that is read as the same, without any member that this holds without; `wrap` makes a definition around it. */
function lessen<Part>(name: string, part: Part, wrap: (part: unknown) => Json): unknown {
  if (part === undefined) return undefined
  const known = name + JSON.stringify(part)
  if (known.length > MOST_TRIED) return part
  const before = lessened.get(known)
  if (before !== undefined) return before
  const read = readSmall(wrap(part))
  const wanted = JSON.stringify(read)
  const made = read ? without(part, changed => JSON.stringify(readSmall(wrap(changed))) === wanted) : part
  lessened.set(known, made)
  keepNewest(lessened, MOST_LESSENED)
  return made
}

/** A value without the members, at any depth, that it can lose; `holds` says of a whole value whether it may be so. */
function without(value: unknown, holds: (value: unknown) => boolean): unknown {
  if (Array.isArray(value)) {
    const items: unknown[] = [...value]
    for (const nth of items.keys())
      items[nth] = without(items[nth], item => holds(items.map((one, at) => (at === nth ? item : one))))
    return items
  }
  if (!isObject(value)) return value
  let left: Json = value
  for (const [name, part] of Object.entries(value)) {
    const { [name]: _, ...others } = left
    if (holds(others)) left = others
    else left = { ...left, [name]: without(part, changed => holds({ ...left, [name]: changed })) }
  }
  return left
}

/** What a column says beyond its key and title. */
function leanColumn(column: ColumnDefinition, usual: ColumnDefinition): Json {
  const { key, title } = column
  const { cell, edit, ...rest } = differing(column, { ...usual, key, title })
  const inColumn = (name: string) => (part: unknown) => ({ columns: [{ ...COLUMN, [name]: part }] })
  return {
    key,
    title,
    ...rest,
    ...(cell === undefined ? {} : { cell: lessen('cell', column.cell, inColumn('cell')) }),
    ...(edit === undefined ? {} : { edit: lessen('edit', column.edit, inColumn('edit')) }),
  }
}

/** A definition as a person would write it: only what it must say, and what differs from the defaults. */
export function leanDefinition(definition: Definition): Json {
  const { format, version, title, key, columns, start } = definition
  const usual = readSmall({})
  if (!usual) return { ...definition }
  const begun = arrangementFor({ ...definition, start: {} })
  const rest = differing(definition, usual)
  const parts = Object.entries(rest).map(([name, part]) =>
    NAMING.has(name) ? [name, part] : [name, lessen(name, part, made => ({ [name]: made }))],
  )
  const lean: Json = {
    format,
    version,
    ...(title === '' ? {} : { title }),
    ...Object.fromEntries(parts),
    ...(key.length === 1 ? { key: key[0] } : {}),
    columns: columns.map(column => leanColumn(column, usual.columns[0])),
    start: leanStart(differing(start, begun)),
  }
  return Object.fromEntries(Object.entries(lean).filter(([, part]) => !same(part, {})))
}

/** Members that speak of columns, and so cannot be tried without them. */
const NAMING = new Set(['format', 'version', 'title', 'key', 'columns', 'start'])

/** Levels say how they are cut and ordered only where that is not the usual way. */
function leanStart({ groups, ...rest }: Json): Json {
  if (!Array.isArray(groups)) return rest
  const named = [...new Set(groups.map(({ column }: Level) => column))]
  const columns = named.map(key => ({ key, title: '' }))
  return { ...rest, groups: lessen('groups', groups, made => ({ columns, start: { groups: made } })) }
}
