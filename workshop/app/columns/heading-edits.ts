import { columnsUnder, headingPaths, type Definition, type HeadingDefinition } from '@vast-meadow/engine'
import { said } from '../utils/said'
import { withColumns } from './column-edits'

/** The definition with columns under a heading of a title: one that is there, else a new one. Empty: under none. */
export function underHeading(definition: Definition, keys: readonly string[], title: string): Definition {
  if (title.trim() === '') return withoutEmpty(withColumns(definition, keys, { under: undefined }))
  const known = definition.headings.find(heading => heading.title === title.trim())
  const heading = known ?? { key: freeKey(definition, title), title: title.trim(), together: false }
  const headings = known ? definition.headings : [...definition.headings, heading]
  return withoutEmpty(withColumns({ ...definition, headings }, keys, { under: heading.key }))
}

export const withHeading = (
  definition: Definition,
  key: string,
  change: Partial<HeadingDefinition>,
): Definition => ({
  ...definition,
  headings: definition.headings.map(heading =>
    heading.key === key ? said({ ...heading, ...change }) : heading,
  ),
})

/** The definition without a heading: what stood under it stands under what it stood under. */
export function withoutHeading(definition: Definition, key: string): Definition {
  const above = definition.headings.find(heading => heading.key === key)?.under
  const raised = <Of extends { under?: string | undefined }>(one: Of): Of =>
    one.under === key ? said({ ...one, under: above }) : one
  return {
    ...definition,
    headings: definition.headings.filter(heading => heading.key !== key).map(raised),
    columns: definition.columns.map(raised),
  }
}

/** Headings under which a heading can stand without standing under itself. */
export function possibleParents(definition: Definition, key: string): readonly HeadingDefinition[] {
  const isBelow = (other: string): boolean => {
    for (let at: string | undefined = other; at !== undefined;)
      if (at === key) return true
      else at = definition.headings.find(heading => heading.key === at)?.under
    return false
  }
  return definition.headings.filter(heading => !isBelow(heading.key))
}

/** A heading over the columns of a list: what is told of it where its columns begin. */
export interface HeadingLine {
  readonly heading: HeadingDefinition
  readonly level: number
}

/** By column of a list: the headings that begin with it, the outermost first. */
export function headingLines(
  definition: Definition,
  keys: readonly string[],
): ReadonlyMap<string, HeadingLine[]> {
  const paths = headingPaths(definition)
  const lines = new Map<string, HeadingLine[]>()
  let before: readonly string[] = []
  for (const key of keys) {
    const path = paths.get(key) ?? []
    const same = path.findIndex((heading, level) => before[level] !== heading)
    const begins = same < 0 ? [] : path.slice(same)
    const told = begins.flatMap((name, nth) => {
      const heading = definition.headings.find(one => one.key === name)
      return heading ? [{ heading, level: same + nth }] : []
    })
    if (told.length > 0) lines.set(key, told)
    before = path
  }
  return lines
}

/** Headings under which nothing stands any more are taken out. */
function withoutEmpty(definition: Definition): Definition {
  const headings = definition.headings.filter(({ key }) => columnsUnder(definition, key).length > 0)
  return { ...definition, headings }
}

/** A key that no heading has, made of the title. */
function freeKey({ headings }: Definition, title: string): string {
  const base = title.trim().toLowerCase().replace(/\W+/g, '-').replace(/^-|-$/g, '') || 'heading'
  for (let nth = 1; ; nth++) {
    const key = nth === 1 ? base : `${base}-${nth}`
    if (!headings.some(heading => heading.key === key)) return key
  }
}
