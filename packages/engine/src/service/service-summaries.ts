import type { GroupPath } from '../flow/line.ts'
import type { ColumnSummary, SummaryAsked } from '../question/summarize.ts'
import { kindOf, summaryField, type SummaryKind } from '../summary/summary.ts'
import type { Value } from '../table/column.ts'
import { sure } from '../work/checked.ts'
import { groupSteps, type LevelQuery } from './group-query.ts'
import { FOLD } from './condition-filter.ts'
import { filterOf, orderText, propertyNamed, type RowsQuery } from './rows-query.ts'
import type { Property, ServiceSchema } from './schema.ts'
import { SUMMARY_METHODS } from './service-abilities.ts'
import { comparePaths, pathText, type Measures, type ServiceGroups } from './service-groups.ts'
import type { Json } from './values.ts'
import { valueIn } from './values.ts'

/** The steps before rows are put together: what is asked of them. */
export function narrowingSteps(query: RowsQuery, but?: string): string[] {
  const filter = filterOf(query, { but })
  return [...(filter ? [`filter(${filter})`] : []), ...(query.search ? [`search(${query.search})`] : [])]
}

/** How a summary is put together from what the service aggregates. */
interface Gathered {
  readonly aggregates: readonly string[]
  /** It takes more than what is told of the group itself. */
  readonly isShare?: true
  /** It is that of the row which stands first, or last: known of the lowest groups, and so of those that hold them. */
  readonly end?: 'first' | 'last'
  /** `parent`: what was told of the group above; of the outermost ones, of all rows. */
  readonly valueIn: (record: Json, all: Json, parent: Json) => Value
}

/** Null: the service cannot. */
function gathered({ column, summary }: SummaryAsked, nth: number, schema: ServiceSchema): Gathered | null {
  const property = propertyNamed(schema, column)
  const kind = kindOf(summary)
  const method = SUMMARY_METHODS[kind]
  if (!property || !method || !fits(kind, property, schema)) return null
  const { path } = property
  const number = isMoment(property) ? `${NUMBER_OF}(${path})` : path
  const name = (end = ''): string => `sum${nth}${end}`
  const told = (end = '', as: Property['field']['type'] = 'number') => {
    const made: Property = { ...property, path: name(end), field: { ...property.field, type: as } }
    return (record: Json): Value => valueIn(record, made)
  }
  const own = property.field.type
  const count = `$count as ${name('n')}`
  switch (kind) {
    case 'count':
      return { aggregates: [count], valueIn: told('n') }
    case 'minimum':
    case 'maximum':
      return { aggregates: [`${path} with ${method} as ${name()}`], valueIn: told('', own) }
    case 'range': {
      const [low, high] = [told('a', own), told('b', own)]
      return {
        aggregates: [`${path} with min as ${name('a')}`, `${path} with max as ${name('b')}`],
        valueIn: record => {
          const [a, b] = [low(record), high(record)]
          return a === null || b === null ? null : Number(b) - Number(a)
        },
      }
    }
    case 'missing': {
      const [present, all] = [told(), told('n')]
      return {
        aggregates: [`${path} with ${method} as ${name()}`, count],
        valueIn: record => Number(all(record)) - Number(present(record)),
      }
    }
    case 'same': {
      const [only, present, different, all] = [told('', own), told('p'), told('d'), told('n')]
      return {
        aggregates: [
          `${path} with min as ${name()}`,
          `${path} with ${method} as ${name('p')}`,
          `${path} with countdistinct as ${name('d')}`,
          count,
        ],
        valueIn: record =>
          Number(different(record)) === 1 && present(record) === all(record) ? only(record) : null,
      }
    }
    case 'frequent':
      return { aggregates: [`${path} with ${method} as ${name()}`], valueIn: told('', own) }
    case 'first':
    case 'last':
      return {
        aggregates: [`${path} with ${method} as ${name()}`],
        end: kind,
        valueIn: told('', own),
      }
    case 'quantile': {
      const at = typeof summary === 'object' && 'at' in summary ? summary.at : 0.5
      return { aggregates: [`${number} with ${method}_${atText(at)} as ${name()}`], valueIn: told() }
    }
    case 'share':
    case 'share-of-parent': {
      const sum = told()
      return {
        aggregates: [`${path} with sum as ${name()}`],
        isShare: true,
        valueIn: (record, all, parent) => {
          const [part, whole] = [sum(record), sum(kind === 'share' ? all : parent)]
          return part === null || !Number(whole) ? null : Number(part) / Number(whole)
        },
      }
    }
    default:
      return { aggregates: [`${number} with ${method} as ${name()}`], valueIn: told() }
  }
}

const ADDED: readonly SummaryKind[] = ['sum', 'deviation', 'share', 'share-of-parent']
/** Of what lies on a line, be it numbers or moments. */
const ON_A_LINE: readonly SummaryKind[] = ['mean', 'median', 'quantile']
/** The service's own function that makes numbers of moments. */
const NUMBER_OF = 'VastMeadow.number'

const isMoment = ({ field: { type } }: Property): boolean =>
  type === 'date' || type === 'datetime' || type === 'time'

function fits(kind: SummaryKind, property: Property, { can }: ServiceSchema): boolean {
  const { type } = property.field
  const isOnALine = ON_A_LINE.includes(kind)
  if (isMoment(property) && isOnALine) return can.functions.has(NUMBER_OF)
  if (isOnALine || ADDED.includes(kind))
    return type === 'integer' || type === 'number' || (type === 'boolean' && kind !== 'deviation')
  return type !== 'tags' || kind === 'count'
}

/** A quantile as it stands in a method's name, which has no points: 0_25. */
export const atText = (at: number): string =>
  at
    .toFixed(12)
    .replace(/\.?0+$/, '')
    .replace('.', '_')

const NOTHING_TOLD: Json = {}

/** What puts rows in the order in which they are shown, where anything asks for the first or the last of them. */
const orderingSteps = (made: readonly Gathered[], { query, schema }: Summing): string[] =>
  made.some(({ end }) => end)
    ? [`orderby(${orderText(query.order, schema.key, schema.can.functions.has(FOLD))})`]
    : []

/** Of which rows summaries are asked, and of whom. */
export interface Summing {
  readonly schema: ServiceSchema
  readonly query: RowsQuery
  /** Answers the groups that some steps make, with what was gathered in them; without levels, the one answer of all rows. */
  readonly ask: (steps: string) => Promise<readonly Json[]>
}

/** What columns come to, in all rows that pass and in each group of a view. */
export async function summarizeService(
  summing: Summing,
  grouped: { readonly groups: ServiceGroups; readonly levels: readonly LevelQuery[] } | null,
  of: readonly SummaryAsked[],
): Promise<ColumnSummary[]> {
  const wanted = of.map((asked, nth) => ({ asked, made: gathered(asked, nth, summing.schema) }))
  const known = wanted.flatMap(({ asked, made }) => (made ? [{ asked, made }] : []))
  const levels = grouped?.levels ?? []
  const depths = [0, ...levels.map((_, i) => i + 1)]
  const plain = known.flatMap(({ made }) => (made.end ? [] : [made]))
  const ends = known.flatMap(({ made }) => (made.end ? [made] : []))
  const [byPath, outermost] = await Promise.all([
    Promise.all(depths.map(async depth => await gatheredBy(levels.slice(0, depth), plain, summing))),
    gatheredBy(levels, ends, summing),
  ])
  const all = byPath[0].get(pathText([]))?.record ?? NOTHING_TOLD
  return known.map(({ asked, made }) => {
    if (made.end) return { ...asked, ...endsOf(made, outermost, grouped?.groups ?? null) }
    return {
      ...asked,
      all: made.valueIn(all, all, all),
      levels: levels.map((_, level) => {
        const groups = sure(grouped).groups
        const values = new Array<Value>(groups.countOf(level)).fill(null)
        for (const { path, record } of byPath[level + 1].values()) {
          const group = groups.find(path)
          const parent = byPath[level].get(pathText(path.slice(0, -1)))?.record ?? NOTHING_TOLD
          if (group >= 0) values[group] = made.valueIn(record, all, parent)
        }
        return values
      }),
    }
  })
}

/** The first values, or the last, of the lowest groups make those of the groups around them, as these stand. */
function endsOf(
  { end, valueIn }: Gathered,
  told: ReadonlyMap<string, ToldGroup>,
  groups: ServiceGroups | null,
): Pick<ColumnSummary, 'all' | 'levels'> {
  const valueAt = (path: GroupPath): Value => {
    const record = told.get(pathText(path))?.record
    return record ? valueIn(record, record, record) : null
  }
  if (!groups) return { all: valueAt([]), levels: [] }
  const depth = groups.levels.length
  const levels: Value[][] = []
  for (let level = depth - 1; level >= 0; level--) {
    const below = levels.at(0)
    levels.unshift(
      Array.from({ length: groups.countOf(level) }, (_, group) => {
        if (!below) return valueAt(groups.pathOf(level, group))
        const { first, end: past } = groups.childrenOf(level, group)
        return endOf(below.slice(first, past), end)
      }),
    )
  }
  return { all: endOf(levels[0], end), levels }
}

/** Of values in their order, the first that is one, or the last. */
const endOf = (values: readonly Value[], end: Gathered['end']): Value =>
  (end === 'first' ? values.find(isThere) : values.findLast(isThere)) ?? null

const isThere = (value: Value): boolean => value !== null

/** What the service gathers in the groups of some levels. */
async function gatheredBy(
  levels: readonly LevelQuery[],
  made: readonly Gathered[],
  summing: Summing,
): Promise<ReadonlyMap<string, ToldGroup>> {
  const aggregates = made.flatMap(one => one.aggregates)
  if (aggregates.length === 0) return new Map()
  const before = [...narrowingSteps(summing.query), ...orderingSteps(made, summing)]
  return recordsByPath(await summing.ask(groupSteps(levels, aggregates, before)), levels)
}

interface ToldGroup {
  readonly path: GroupPath
  readonly record: Json
}

function recordsByPath(
  records: readonly Json[],
  levels: readonly LevelQuery[],
): ReadonlyMap<string, ToldGroup> {
  const told = records.map(record => ({ path: levels.map(level => level.keyIn(record)), record }))
  return new Map(told.map(one => [pathText(one.path), one]))
}

/** What the groups of a level are ordered by, where that is a summary. `levels`: all there are. */
export async function measureGroups(
  summing: Summing,
  levels: readonly LevelQuery[],
  nth: number,
  asked: SummaryAsked,
  locale: string | undefined,
): Promise<Measures> {
  const made = gathered(asked, 0, summing.schema)
  if (!made) return new Map()
  const told = (depth: number): Promise<ReadonlyMap<string, ToldGroup>> =>
    gatheredBy(levels.slice(0, depth), [made], summing)
  if (made.end)
    return measuresOf(
      endValues(made, await told(levels.length), nth, locale),
      comesToTexts(summing.schema, asked),
      locale,
    )
  const isShare = made.isShare === true
  const [groups, above, all] = await Promise.all([
    told(nth + 1),
    isShare ? told(nth) : null,
    isShare ? told(0) : null,
  ])
  const whole = all?.get(pathText([]))?.record ?? NOTHING_TOLD
  const values = [...groups].map(([name, { path, record }]) => {
    const parent = above?.get(pathText(path.slice(0, -1)))?.record ?? NOTHING_TOLD
    return [name, made.valueIn(record, whole, parent)] as const
  })
  return measuresOf(values, comesToTexts(summing.schema, asked), locale)
}

function measuresOf(
  values: readonly (readonly [string, Value])[],
  isText: boolean,
  locale: string | undefined,
): Measures {
  const keys = sortKeys(
    values.map(([, value]) => value),
    isText,
    locale,
  )
  return new Map(values.map(([name], i) => [name, keys[i]]))
}

/** Of the first or last row in each group, whose own groups stand by their keys: their order is not known yet. */
function endValues(
  { end, valueIn }: Gathered,
  told: ReadonlyMap<string, ToldGroup>,
  nth: number,
  locale: string | undefined,
): (readonly [string, Value])[] {
  const collator = new Intl.Collator(locale)
  const inOrder = [...told.values()].sort((a, b) => comparePaths(a.path, b.path, collator))
  const values = new Map<string, Value[]>()
  for (const { path, record } of inOrder) {
    const name = pathText(path.slice(0, nth + 1))
    const among = values.get(name) ?? []
    among.push(valueIn(record, record, record))
    values.set(name, among)
  }
  return [...values].map(([name, all]) => [name, endOf(all, end)])
}

/** Numbers by which values of one column are ordered, texts as a language orders them; NaN: there is none. */
export function sortKeys(values: readonly Value[], isText: boolean, locale: string | undefined): number[] {
  if (!isText) return values.map(value => (value === null ? NaN : Number(value)))
  const collator = new Intl.Collator(locale)
  const texts = [...new Set(values.map(String))].sort(collator.compare)
  const ranks = new Map(texts.map((text, rank) => [text, rank]))
  return values.map(value => (value === null ? NaN : (ranks.get(String(value)) ?? NaN)))
}

/** Whether a summary of a column comes to texts. */
export const comesToTexts = (schema: ServiceSchema, { column, summary }: SummaryAsked): boolean => {
  const field = propertyNamed(schema, column)?.field
  return field !== undefined && summaryField(summary, field).type === 'text'
}
