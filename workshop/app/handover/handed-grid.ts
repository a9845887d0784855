import type { Definition } from '@vast-meadow/engine'
import { leanDefinition } from './lean-definition'
import { fileName } from './download'
import type { FileOrigin, Origin } from '~/storage/saved-grid'

/** What is handed over of an open grid. */
export interface HandedGrid {
  readonly title: string
  /** Its start is what is arranged in Build. */
  readonly definition: Definition
  readonly origin: Origin
}

/** The options of `mountMeadow` that can be written as JSON; a file's rows are fetched apart. */
export function optionsJson(grid: HandedGrid): object {
  const { definition, origin } = grid
  const source = sourceJson(origin)
  return {
    definition: leanDefinition(definition),
    ...(source ? { source } : {}),
    // A link that a reader copies is read from the page's address.
    ...(keepsArrangements(grid) ? { link: 'view' } : {}),
  }
}

/** Where rows come from, as far as JSON says it. */
function sourceJson(origin: Origin): object | undefined {
  if (origin.kind === 'service' || origin.kind === 'listing') return origin
  if (origin.kind !== 'recipe') return undefined
  return origin.computed
    ? { kind: 'computed', recipe: origin.recipe, latencyMs: origin.latencyMs }
    : { kind: 'recipe', recipe: origin.recipe }
}

/** Whether readers keep arrangements by name, which takes a place to keep them in. */
export const keepsArrangements = ({ definition }: HandedGrid): boolean => definition.arrangements ?? false

/** The place where a reader's arrangements are kept in the browser. */
export const arrangementsStore = ({ title }: HandedGrid): string => `localArrangements('${fileName(title)}')`

/** The code that adds that place to `options`; nothing where none is wanted. */
export const storageCode = (grid: HandedGrid): string =>
  keepsArrangements(grid) ? `options.storage = ${arrangementsStore(grid)}\n` : ''

/** The options as they stand in code: within a script, a text may not hold its end. */
export const optionsCode = (grid: HandedGrid): string =>
  JSON.stringify(optionsJson(grid), null, 2).replaceAll('</', '<\\/')

/** The code that adds a file's rows to `options`; nothing where the rows come from a recipe. */
export const fileRows = ({ origin }: HandedGrid, path: string): string =>
  origin.kind === 'file'
    ? `${answerCode(path)}options.source = ${fileSource(origin, 'await answer.blob()')}\n`
    : ''

/** The code that fetches a file as `answer`: a page that says that there is none must not be read as rows. */
export const answerCode = (path: string, indent = ''): string => {
  const name = path.replace('./', '')
  return `${indent}const answer = await fetch('${path}')
${indent}if (!answer.ok) throw new Error(\`${name} is not there: \${answer.status}\`)
`
}

/** A file's rows as the grid is given them, `blob` being the code that brings the file. */
export function fileSource({ options, times }: FileOrigin, blob: string): string {
  const read = options && Object.keys(options).length > 0 ? `, options: ${JSON.stringify(options)}` : ''
  const file = `{ kind: 'file', blob: ${blob}${read} }`
  return times && times > 1 ? `{ kind: 'grown', of: ${file}, times: ${times} }` : file
}

/** The name under which a file's rows are handed over: its own ending tells what it is. */
export const rowsName = (origin: Origin): string => {
  const ending = origin.kind === 'file' ? /(\.[a-z]+)?\.(\w+)$/i.exec(origin.name)?.[0] : null
  return `rows${ending?.toLowerCase() ?? '.csv'}`
}
