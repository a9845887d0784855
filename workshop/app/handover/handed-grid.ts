import type { Definition } from '@vast-meadow/engine'
import { leanDefinition } from './lean-definition'
import type { FileOrigin, Origin } from '~/storage/saved-grid'

/** What is handed over of an open grid. */
export interface HandedGrid {
  readonly title: string
  /** Its start is what is arranged in Build. */
  readonly definition: Definition
  readonly origin: Origin
}

/** The options of `mountMeadow` that can be written as JSON; a file's rows are fetched apart. */
export function optionsJson({ definition, origin }: HandedGrid): object {
  const source =
    origin.kind !== 'recipe'
      ? undefined
      : origin.computed
        ? { kind: 'computed', recipe: origin.recipe, latencyMs: origin.latencyMs }
        : { kind: 'recipe', recipe: origin.recipe }
  return { definition: leanDefinition(definition), ...(source ? { source } : {}) }
}

/** The options as they stand in code: within a script, a text may not hold its end. */
export const optionsCode = (grid: HandedGrid): string =>
  JSON.stringify(optionsJson(grid), null, 2).replaceAll('</', '<\\/')

/** The code that adds a file's rows to `options`; nothing where the rows come from a recipe. */
export const fileRows = ({ origin }: HandedGrid, path: string): string =>
  origin.kind === 'file'
    ? `options.source = ${fileSource(origin, `await (await fetch('${path}')).blob()`)}\n`
    : ''

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
