import { arrangementFor, readDefinition, type Definition } from '@vast-meadow/engine'

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

/** A definition as a person would write it: only what it must say, and what differs from the defaults. */
export function leanDefinition(definition: Definition): Json {
  const { format, version, title, key, columns, start } = definition
  const bare = { format, version, title: '', columns: [{ key: 'k', title: '' }] }
  const read = readDefinition(bare)
  if (!read.ok) return { ...definition }
  const usual = read.definition
  const begun = arrangementFor({ ...definition, start: {} })
  const lean: Json = {
    format,
    version,
    ...(title === '' ? {} : { title }),
    ...differing(definition, usual),
    ...(key.length === 1 ? { key: key[0] } : {}),
    columns: columns.map(column => ({
      key: column.key,
      title: column.title,
      ...differing(column, { ...usual.columns[0], key: column.key, title: column.title }),
    })),
    start: differing(start, begun),
  }
  return Object.fromEntries(Object.entries(lean).filter(([, part]) => !same(part, {})))
}
