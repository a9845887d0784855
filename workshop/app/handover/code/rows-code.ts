import type { FileOrigin } from '~/storage/saved-grid'
import { rowsName, sourceJson, type HandedGrid } from '../handed-grid'
import { codeOf } from './code-text'

/** How the code gets at its rows: as a list, as what a source is made of, or once they are fetched. */
export type RowsAre = 'rows' | 'source' | 'fetched'

export function rowsAre({ origin, rowsFrom }: Pick<HandedGrid, 'origin' | 'rowsFrom'>): RowsAre {
  if (rowsFrom === 'array' || origin.kind === 'none') return 'rows'
  return origin.kind === 'file' ? 'fetched' : 'source'
}

/** The file that gives the rows. */
export function rowsCode(grid: HandedGrid): string {
  switch (rowsAre(grid)) {
    case 'rows':
      return `import type { Row } from './row'

/** The first rows, as an example: give yours in their place. */
export const rows: readonly Row[] = ${codeOf(grid.sample)}
`
    case 'source':
      return `import type { SourceInput } from '@vast-meadow/grid'

/** Where the rows are. */
export const source: SourceInput = ${codeOf(sourceJson(grid))}
`
    case 'fetched':
      return fetchedCode(grid.origin as FileOrigin)
  }
}

function fetchedCode(origin: FileOrigin): string {
  const name = rowsName(origin)
  return `import type { SourceInput } from '@vast-meadow/grid'

/** The rows, which the page's server has beside it. */
export async function fetchRows(): Promise<SourceInput> {
${answerCode(`./${name}`, '  ')}  return ${fileSource(origin, 'await answer.blob()')}
}
`
}

/**
 * The code that fetches a file as `answer`. A server's page that says that there is none must not be read as rows, nor
 * the page that some give in place of whatever is not there.
 */
export const answerCode = (path: string, indent = ''): string => {
  const name = path.replace('./', '')
  return `${indent}const answer = await fetch('${path}')
${indent}const isPage = answer.headers.get('content-type')?.startsWith('text/html')
${indent}if (!answer.ok || isPage) throw new Error(\`${name} is not there: \${answer.status}\`)
`
}

/** A file's rows as the grid is given them, `blob` being the code that brings the file. */
export function fileSource({ options, times }: FileOrigin, blob: string): string {
  const read = options && Object.keys(options).length > 0 ? `, options: ${codeOf(options)}` : ''
  const file = `{ kind: 'file', blob: ${blob}${read} }`
  return times && times > 1 ? `{ kind: 'grown', of: ${file}, times: ${times} }` : file
}
