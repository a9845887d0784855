import type { GroupPath } from '../flow/line.ts'
import type { ColumnSummary, SummaryAsked } from '../question/summarize.ts'
import { kindOf, type SummaryKind } from '../summary/summary.ts'
import type { Value } from '../table/column.ts'
import { sure } from '../work/checked.ts'
import { groupSteps, type LevelQuery } from './group-query.ts'
import { filterOf, propertyNamed, type RowsQuery } from './rows-query.ts'
import type { Property, ServiceSchema } from './schema.ts'
import { SUMMARY_METHODS } from './service-abilities.ts'
import { pathText, type Measures, type ServiceGroups } from './service-groups.ts'
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
  /** `parent`: what was told of the group above; of the outermost ones, of all rows. */
  valueIn(record: Json, all: Json, parent: Json): Value
}

/** Null: the service cannot. */
function gathered({ column, summary }: SummaryAsked, nth: number, schema: ServiceSchema): Gathered | null {
  const property = propertyNamed(schema, column)
  const kind = kindOf(summary)
  const method = SUMMARY_METHODS[kind]
  if (!property || !method || !fits(kind, property)) return null
  const { path } = property
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
      return { aggregates: [`${path} with ${method} as ${name()}`], valueIn: told() }
  }
}

const NUMBERS: readonly SummaryKind[] = ['sum', 'mean', 'median', 'deviation', 'share', 'share-of-parent']

function fits(kind: SummaryKind, { field: { type } }: Property): boolean {
  if (NUMBERS.includes(kind))
    return type === 'integer' || type === 'number' || (type === 'boolean' && kind !== 'deviation')
  return type !== 'tags' || kind === 'count'
}

const NOTHING_TOLD: Json = {}

/** Of which rows summaries are asked, and of whom. */
export interface Summing {
  readonly schema: ServiceSchema
  readonly query: RowsQuery
  /** Answers the groups that some steps make, with what was gathered in them; without levels, the one answer of all rows. */
  readonly ask: (steps: string) => Promise<readonly Json[]>
}

/** What columns come to, in all rows that pass and in each group of a view. */
export async function summarizeService(
  { schema, query, ask }: Summing,
  grouped: { readonly groups: ServiceGroups; readonly levels: readonly LevelQuery[] } | null,
  of: readonly SummaryAsked[],
): Promise<ColumnSummary[]> {
  const wanted = of.map((asked, nth) => ({ asked, made: gathered(asked, nth, schema) }))
  const known = wanted.filter(({ made }) => made !== null)
  const aggregates = known.flatMap(({ made }) => sure(made).aggregates)
  if (aggregates.length === 0) return []
  const before = narrowingSteps(query)
  const levels = grouped?.levels ?? []
  const depths = [0, ...levels.map((_, i) => i + 1)]
  const answers = await Promise.all(
    depths.map(depth => ask(groupSteps(levels.slice(0, depth), aggregates, before))),
  )
  const all = answers[0].at(0) ?? NOTHING_TOLD
  const byPath = answers.map((records, depth) => recordsByPath(records, levels.slice(0, depth)))
  return known.map(({ asked, made }) => ({
    ...asked,
    all: sure(made).valueIn(all, all, all),
    levels: levels.map((_, level) => {
      const groups = sure(grouped).groups
      const values = new Array<Value>(groups.countOf(level)).fill(null)
      for (const { path, record } of byPath[level + 1].values()) {
        const group = groups.find(path)
        const parent = byPath[level].get(pathText(path.slice(0, -1)))?.record ?? NOTHING_TOLD
        if (group >= 0) values[group] = sure(made).valueIn(record, all, parent)
      }
      return values
    }),
  }))
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

/** What the groups of the lowest level are ordered by, where that is a summary. */
export async function measureGroups(
  { schema, query, ask }: Summing,
  levels: readonly LevelQuery[],
  asked: SummaryAsked,
): Promise<Measures> {
  const made = gathered(asked, 0, schema)
  if (!made) return new Map()
  const told = async (depth: number): Promise<ReadonlyMap<string, ToldGroup>> => {
    const some = levels.slice(0, depth)
    return recordsByPath(await ask(groupSteps(some, made.aggregates, narrowingSteps(query))), some)
  }
  const isShare = made.isShare === true
  const [groups, above, all] = await Promise.all([
    told(levels.length),
    isShare ? told(levels.length - 1) : null,
    isShare ? told(0) : null,
  ])
  const whole = all?.get(pathText([]))?.record ?? NOTHING_TOLD
  return new Map(
    [...groups].map(([name, { path, record }]) => {
      const parent = above?.get(pathText(path.slice(0, -1)))?.record ?? NOTHING_TOLD
      return [name, numberOf(made.valueIn(record, whole, parent))]
    }),
  )
}

const numberOf = (value: Value): number => (value === null ? NaN : Number(value))
