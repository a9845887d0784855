import { nearestName } from '../table/nearest-name.ts'
import type { HeadingDefinition } from './heading-schema.ts'

export interface Headed {
  readonly headings: readonly HeadingDefinition[]
  readonly columns: readonly { readonly key: string; readonly under?: string | undefined }[]
}

/** What is wrong with the headings of a definition: where, and a sentence; null: nothing. */
export function headingProblem({ headings, columns }: Headed): { path: string; message: string } | null {
  const keys = headings.map(({ key }) => key)
  const doubled = keys.findIndex((key, i) => keys.indexOf(key) !== i)
  if (doubled >= 0)
    return { path: `headings.${doubled}.key`, message: `There are two headings "${keys[doubled]}".` }
  const unknown = (under: string): string => {
    const nearest = nearestName(under, keys)
    return `There is no heading "${under}".${nearest === null ? '' : ` The nearest is "${nearest}".`}`
  }
  for (const [part, list] of [
    ['headings', headings],
    ['columns', columns],
  ] as const)
    for (const [nth, { under }] of list.entries())
      if (under !== undefined && !keys.includes(under))
        return { path: `${part}.${nth}.under`, message: unknown(under) }
  const round = headings.findIndex(({ key }) => pathTo(headings, key).length === 0)
  if (round >= 0)
    return { path: `headings.${round}.under`, message: `The heading "${keys[round]}" stands under itself.` }
  return null
}

/** A heading and those that it stands under, the outermost first; none where they go round in circles. */
function pathTo(headings: readonly HeadingDefinition[], key: string | undefined): string[] {
  const path: string[] = []
  for (let at = key; at !== undefined; at = headings.find(one => one.key === at)?.under) {
    if (path.includes(at)) return []
    path.unshift(at)
  }
  return path
}

/** By column: the headings that it stands under, the outermost first. Of columns that stand under none: no entry. */
export function headingPaths({ headings, columns }: Headed): ReadonlyMap<string, readonly string[]> {
  const paths = new Map(headings.map(({ key }) => [key, pathTo(headings, key)]))
  return new Map(
    columns.flatMap(({ key, under }): [string, readonly string[]][] => {
      const path = under === undefined ? undefined : paths.get(under)
      return path && path.length > 0 ? [[key, path]] : []
    }),
  )
}

/** The columns under a heading, directly or further down, in the order in which the definition has them. */
export function columnsUnder(headed: Headed, heading: string): string[] {
  const paths = headingPaths(headed)
  return headed.columns.map(({ key }) => key).filter(key => paths.get(key)?.includes(heading))
}
