import * as z from 'zod/mini'
import '../zod.ts'
import { nearestName } from '../table/nearest-name.ts'
import { migratedArrangement } from './migrate.ts'
import { arrangementSchema, type Arrangement } from './arrangement-schema.ts'

/** What is wrong with an arrangement from outside; `path` as in `order.0.column`. */
export interface ArrangementProblem {
  readonly code: 'arrangement-not-valid' | 'no-such-column'
  readonly path: string
  readonly message: string
  /** Of a column that is not there: the one that may have been meant. */
  readonly nearest: string | null
}

export type ArrangementResult =
  | { readonly ok: true; readonly arrangement: Partial<Arrangement> }
  | { readonly ok: false; readonly problems: readonly ArrangementProblem[] }

const partSchema = z.strictObject(z.partial(arrangementSchema).shape)

/** A part of an arrangement as code writes it: what has a default may be left out. */
export type ArrangementInput = Readonly<z.input<typeof partSchema>>

/**
 * Reads a part of an arrangement that code or a store gives. `columns`: the columns there are, which all that it names
 * must be among; null: those that it names are left to whoever lays it over a definition.
 */
export function readArrangement(json: unknown, columns: readonly string[] | null): ArrangementResult {
  const read = partSchema.safeParse(migratedArrangement(json))
  if (!read.success) {
    const problems = read.error.issues.map(({ path, message }) => ({
      code: 'arrangement-not-valid' as const,
      path: path.join('.'),
      message,
      nearest: null,
    }))
    return { ok: false, problems }
  }
  const given = Object.entries(read.data).filter(([, value]) => value !== undefined)
  const arrangement: Partial<Arrangement> = Object.fromEntries(given)
  const known = columns && new Set(columns)
  const problems = [...namedColumns(arrangement)].flatMap(([path, name]): ArrangementProblem[] => {
    if (!columns || !known || known.has(name)) return []
    const nearest = nearestName(name, columns)
    const message = `There is no column "${name}".${nearest === null ? '' : ` The nearest is "${nearest}".`}`
    return [{ code: 'no-such-column', path, message, nearest }]
  })
  return problems.length > 0 ? { ok: false, problems } : { ok: true, arrangement }
}

/** Every column that an arrangement names, with where it does. */
function* namedColumns(arrangement: Partial<Arrangement>): Iterable<readonly [path: string, column: string]> {
  for (const list of ['columns', 'hidden', 'pinnedStart', 'pinnedEnd', 'compared'] as const)
    for (const [nth, key] of arrangement[list]?.entries() ?? []) yield [`${list}.${nth}`, key]
  for (const record of ['widths', 'conditions', 'summaries'] as const)
    for (const key of Object.keys(arrangement[record] ?? {})) yield [`${record}.${key}`, key]
  for (const [nth, { column }] of arrangement.order?.entries() ?? []) yield [`order.${nth}.column`, column]
  for (const [nth, { column }] of arrangement.groups?.entries() ?? []) yield [`groups.${nth}.column`, column]
}
