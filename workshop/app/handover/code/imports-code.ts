import type { HandedGrid } from '../handed-grid'
import { wants } from './handlers-code'
import { rowsAre } from './rows-code'

/** What every host imports of the files beside it, its own things apart. */
export function importsCode(grid: HandedGrid, { row = true }: { readonly row?: boolean } = {}): string {
  const { names } = wants(grid)
  const rows = { rows: 'rows', source: 'source', fetched: 'fetchRows' }[rowsAre(grid)]
  return [
    "import { definition } from './definition'",
    ...(names.length > 0 ? [`import { ${names.join(', ')} } from './handlers'`] : []),
    ...(row ? ["import type { Row } from './row'"] : []),
    `import { ${rows} } from './rows'`,
  ].join('\n')
}

/** The options that are given beside the rows, by what they are called and what stands for them. */
export function givenOptions(grid: HandedGrid): readonly (readonly [name: string, code: string])[] {
  const { hasParts, keeps } = wants(grid)
  return [
    ['definition', 'definition'],
    ...(hasParts ? [['parts', 'parts'] as const] : []),
    // A link that a reader copies is read from the page's address.
    ...(keeps
      ? ([
          ['storage', 'storage'],
          ['link', "'view'"],
        ] as const)
      : []),
  ]
}

/** The same as the members of an object. */
export const membersCode = (options: readonly (readonly [string, string])[]): string =>
  options.map(([name, code]) => (name === code ? name : `${name}: ${code}`)).join(', ')
