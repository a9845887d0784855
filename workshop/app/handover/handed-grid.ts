import type { Definition, Field, Scene } from '@vast-meadow/engine'
import { leanDefinition } from './lean-definition'
import type { Origin } from '~/storage/saved-grid'

/** What is handed over of an open grid. */
export interface HandedGrid {
  readonly title: string
  /** Its start is what is arranged in Build. */
  readonly definition: Definition
  readonly origin: Origin
  /** What the data hold. */
  readonly fields: readonly Field[]
  /** Fields that have a value in every row, as far as that is known. */
  readonly filled: readonly string[]
  /** Some first rows, as a program has them. */
  readonly sample: readonly Readonly<Record<string, unknown>>[]
  /** `array`: rows that the receiving project has itself; else where they come from here. */
  readonly rowsFrom: RowsFrom
  /** What arrangements showed: they go along as a test. */
  readonly scenes: readonly Scene[]
}

export type RowsFrom = 'origin' | 'array'

/** Where rows come from, as far as JSON says it. */
export function sourceJson({ origin }: Pick<HandedGrid, 'origin'>): object | undefined {
  if (origin.kind === 'service' || origin.kind === 'listing') return origin
  if (origin.kind !== 'recipe') return undefined
  return origin.computed
    ? { kind: 'computed', recipe: origin.recipe, latencyMs: origin.latencyMs }
    : { kind: 'recipe', recipe: origin.recipe }
}

/** The options of a page that can be written as JSON; a file's rows are fetched apart. */
export function optionsJson(grid: HandedGrid): object {
  const source = sourceJson(grid)
  return {
    definition: leanDefinition(grid.definition),
    ...(source ? { source } : {}),
    // A link that a reader copies is read from the page's address.
    ...(keepsArrangements(grid) ? { link: 'view' } : {}),
  }
}

/** Whether readers keep arrangements by name, which takes a place to keep them in. */
export const keepsArrangements = ({ definition }: Pick<HandedGrid, 'definition'>): boolean =>
  definition.arrangements ?? false

/** The name under which a file's rows are handed over: its own ending tells what it is. */
export const rowsName = (origin: Origin): string => {
  const ending = origin.kind === 'file' ? /(\.[a-z]+)?\.(\w+)$/i.exec(origin.name)?.[0] : null
  return `rows${ending?.toLowerCase() ?? '.csv'}`
}

/** The file of rows that is handed over beside the code; null: there is none. */
export const rowsFile = ({ origin, rowsFrom }: Pick<HandedGrid, 'origin' | 'rowsFrom'>): string | null =>
  rowsFrom === 'origin' && origin.kind === 'file' ? rowsName(origin) : null
