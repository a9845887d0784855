/** Longer than this, what stands in brackets gets lines of its own. */
const WIDTH = 100

/**
 * A value that JSON can hold, as an engineer writes it in a script: single quotes, names without, short things on one line.
 * `before`: letters that stand before it on its line.
 */
export function codeOf(value: unknown, indent = 0, before = 0): string {
  const line = oneLine(value)
  const parts = partsOf(value)
  if (!parts || parts.length === 0 || line.length + indent + before <= WIDTH) return line
  const [open, close] = bracketsOf(value)
  const space = ' '.repeat(indent + 2)
  const lines = parts.map(([name, part]) => `${space}${name}${codeOf(part, indent + 2, name.length + 1)},`)
  return `${open}\n${lines.join('\n')}\n${' '.repeat(indent)}${close}`
}

function oneLine(value: unknown): string {
  const parts = partsOf(value)
  if (!parts) return typeof value === 'string' ? textCode(value) : JSON.stringify(value)
  const [open, close] = bracketsOf(value)
  const room = open === '{' && parts.length > 0 ? ' ' : ''
  return open + room + parts.map(([name, part]) => name + oneLine(part)).join(', ') + room + close
}

const bracketsOf = (value: unknown): readonly [string, string] =>
  Array.isArray(value) ? ['[', ']'] : ['{', '}']

/** The parts of a list or an object, each with the name before it; null: it is neither. */
function partsOf(value: unknown): (readonly [string, unknown])[] | null {
  if (Array.isArray(value)) return value.map(part => ['', part] as const)
  if (typeof value !== 'object' || value === null) return null
  return Object.entries(value)
    .filter(([, part]) => part !== undefined)
    .map(([name, part]) => [`${nameCode(name)}: `, part] as const)
}

/** A name before its colon. Written plainly, `__proto__` would be no name. */
export const nameCode = (name: string): string =>
  name === '__proto__' ? "['__proto__']" : /^[A-Za-z_$][\w$]*$/.test(name) ? name : textCode(name)

/** A text in quotes: single ones, where it does not hold more of these than of the others. */
export function textCode(text: string): string {
  const json = JSON.stringify(text)
  const single = text.split("'").length
  if (single > text.split('"').length) return json
  return `'${json.slice(1, -1).replaceAll('\\"', '"').replaceAll("'", "\\'")}'`
}

/** Words of a title in letters that every tool takes in a name. */
const plainWords = (title: string): string[] =>
  title
    .normalize('NFD')
    .replaceAll(/[\p{M}'’]/gu, '')
    .match(/[A-Za-z0-9]+/g) ?? []

/** Names that the code around it has itself. */
const TAKEN = new Set([
  'Component',
  'DestroyRef',
  'ElementRef',
  'Row',
  'SourceInput',
  'StrictMode',
  'VastMeadow',
])

/** A title as the name of a component, such as `SeedLibrary`. */
export function typeName(title: string): string {
  const name = plainWords(title)
    .map(word => word[0].toUpperCase() + word.slice(1))
    .join('')
  return /^[A-Z]/.test(name) && !TAKEN.has(name) ? name : `Grid${name}`
}

/** A title as the name of a package, a folder, or an element, such as `seed-library`. */
export const plainName = (title: string): string => plainWords(title).join('-').toLowerCase() || 'grid'
