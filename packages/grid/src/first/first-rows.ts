import {
  arrangementFor,
  asRows,
  finish,
  formatsOf,
  plainColumn,
  readRows,
  shower,
  uncheckedColumn,
  uncheckedDefinition,
  undefinedDefinition,
  valueAt,
  type UncheckedDefinition,
} from '@vast-meadow/engine/first'
import type { Arrangement, Format, Value } from '@vast-meadow/engine'
import type { MeadowOptions } from '../kernel/options.ts'

/** So many rows, spread over all, tell how wide columns are that nobody defined; the engine takes as many. */
const SAMPLED_ROWS = 60

/** The first of the rows, and how they are shown. */
export interface FirstRows {
  readonly definition: UncheckedDefinition
  readonly arrangement: Arrangement
  /** All rows. */
  readonly total: number
  /** Those on the first page, where there are pages. */
  readonly onPage: number
  /** How many of them can be drawn. */
  readonly count: number
  value(row: number, column: string): Value
  /** As the column writes it; null: the grid alone can tell what the column shows. */
  text(row: number, column: string): string | null
}

/** What of an arrangement does not decide which rows come first, nor what stands beside them. */
const OF_COLUMNS = new Set(['columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd', 'open', 'pageSize'])

/** Whether only columns are arranged; unchecked as it is, whatever else says anything says something else. */
const isPlain = (arranged: object): boolean =>
  Object.entries(arranged).every(([part, value]) => OF_COLUMNS.has(part) || saysNothing(value))

const saysNothing = (value: unknown): boolean =>
  !value || (typeof value === 'object' && Object.values(value).every(saysNothing))

/** Whether the page was opened by an address that holds an arrangement. */
const isLinked = ({ link }: MeadowOptions): boolean =>
  Boolean(link) && new URLSearchParams(location.hash.slice(1)).has(String(link))

/** Rows that are given as a list, alone or as a source. */
function listOf({ rows, source }: MeadowOptions): readonly object[] | null {
  if (source) return 'kind' in source && source.kind === 'rows' ? source.rows : null
  return rows ?? null
}

/**
 * What can be said of the first rows without an engine and without checks. null: that is for the grid to say, as rows are
 * elsewhere, ordered, held back, grouped or as high as their content, or what a reader kept decides on them. `most`: so many
 * rows find room; `characterPx`: measures a character of the cells, where nobody defined widths.
 */
export function firstRowsOf(
  options: MeadowOptions,
  most: number,
  characterPx?: () => number | undefined,
): FirstRows | null {
  const { storage, unsaved, place, locale } = options
  const list = listOf(options)
  if (storage || unsaved || place || isLinked(options) || !list || list.length === 0) return null
  const total = list.length
  const first = list.slice(0, most)
  // They tell what type a field is of as well.
  const step = Math.max(1, Math.floor(total / SAMPLED_ROWS))
  const sampled = Array.from({ length: Math.min(SAMPLED_ROWS, total) }, (_, nth) => list[nth * step])
  const source = options.source && 'kind' in options.source ? options.source : null
  const asked = source?.kind === 'rows' ? source.columns : undefined
  const { table } = finish(readRows(asRows([...first, ...sampled]), asked))
  const fieldAt = new Map(table.fields.map(({ key }, i) => [key, i]))

  /** What the texts say of how wide columns are that nobody defined. */
  const made = (): UncheckedDefinition => {
    const width = characterPx?.()
    const columns = table.fields.map((field, i) => {
      const show = shower(field)
      const texts = sampled.map((_, nth) => show(valueAt(table.columns[i], first.length + nth)))
      return uncheckedColumn(plainColumn(field, texts, width))
    })
    return { ...undefinedDefinition(columns), locale }
  }
  const definition = options.definition ? uncheckedDefinition(options.definition) : made()
  if (!definition || definition.rowHeight === 'content' || definition.fit.kind === 'rows') return null
  if (!isPlain({ ...definition.start, ...options.arrangement })) return null
  const arrangement = arrangementFor(definition, options.arrangement as Partial<Arrangement> | undefined)

  const { pages } = definition
  const onPage = pages ? Math.min(total, arrangement.pageSize ?? pages.size ?? Infinity) : total
  const now = (options.clock ?? Date.now)()
  const formats: Readonly<Record<string, Format>> = formatsOf(
    { ...definition, locale: definition.locale ?? locale },
    now,
  )
  const painters = options.parts?.painters ?? {}
  const columns = new Map(definition.columns.map(column => [column.key, column]))
  const shows = new Map(table.fields.map(field => [field.key, shower(field, formats[field.key])]))
  const value = (row: number, column: string): Value => {
    const at = fieldAt.get(column)
    return at === undefined ? null : valueAt(table.columns[at], row)
  }
  return {
    definition,
    arrangement,
    total,
    onPage,
    count: Math.min(first.length, onPage),
    value,
    text(row, key) {
      const column = columns.get(key)
      const show = shows.get(key)
      const isOwn = Object.hasOwn(painters, column?.painter ?? `cell:${key}`)
      return !column || !show || isOwn || column.expression !== undefined ? null : show(value(row, key))
    },
  }
}
