import type { ColumnSummary, SummaryAsked } from '../question/summarize.ts'
import { kindOf, type SummaryKind } from '../summary/summary.ts'
import type { Value } from '../table/column.ts'
import { sure } from '../work/checked.ts'
import { groupSteps, type LevelQuery } from './group-query.ts'
import { filterOf, propertyNamed, type RowsQuery } from './rows-query.ts'
import type { Property } from './schema.ts'
import { SUMMARY_METHODS } from './service-abilities.ts'
import { pathText, type Measures, type ServiceGroups } from './service-groups.ts'
import type { ServiceContext } from './service-view.ts'
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
  valueIn(record: Json, all: Json): Value
}

/** Null: the service cannot. */
function gathered({ column, summary }: SummaryAsked, nth: number, context: ServiceContext): Gathered | null {
  const property = propertyNamed(context.schema, column)
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
    case 'share': {
      const sum = told()
      return {
        aggregates: [`${path} with sum as ${name()}`],
        valueIn: (record, all) => {
          const [part, whole] = [sum(record), sum(all)]
          return part === null || !Number(whole) ? null : Number(part) / Number(whole)
        },
      }
    }
    default:
      return { aggregates: [`${path} with ${method} as ${name()}`], valueIn: told() }
  }
}

const NUMBERS: readonly SummaryKind[] = ['sum', 'mean', 'median', 'deviation', 'share']

function fits(kind: SummaryKind, { field: { type } }: Property): boolean {
  if (kind === 'share-of-parent') return false
  if (NUMBERS.includes(kind))
    return type === 'integer' || type === 'number' || (type === 'boolean' && kind !== 'deviation')
  return type !== 'tags' || kind === 'count'
}

const NOTHING_TOLD: Json = {}

/** Answers the service's groups of a level with what was gathered in them; without levels, the one answer of all rows. */
async function ask(
  context: ServiceContext,
  steps: string,
  signal: AbortSignal | undefined,
): Promise<readonly Json[]> {
  return await context.service.all(context.schema.rows, { $apply: steps }, signal)
}

/** What columns come to, in all rows that pass and in each group of a view. */
export async function summarizeService(
  context: ServiceContext,
  query: RowsQuery,
  grouped: { readonly groups: ServiceGroups; readonly levels: readonly LevelQuery[] } | null,
  of: readonly SummaryAsked[],
  signal?: AbortSignal,
): Promise<ColumnSummary[]> {
  const wanted = of.map((asked, nth) => ({ asked, made: gathered(asked, nth, context) }))
  const known = wanted.filter(({ made }) => made !== null)
  const aggregates = known.flatMap(({ made }) => sure(made).aggregates)
  if (aggregates.length === 0) return []
  const before = narrowingSteps(query)
  const levels = grouped?.levels ?? []
  const depths = [0, ...levels.map((_, i) => i + 1)]
  const answers = await Promise.all(
    depths.map(depth => ask(context, groupSteps(levels.slice(0, depth), aggregates, before), signal)),
  )
  const all = answers[0].at(0) ?? NOTHING_TOLD
  return known.map(({ asked, made }) => ({
    ...asked,
    all: sure(made).valueIn(all, all),
    levels: levels.map((_, level) => {
      const groups = sure(grouped).groups
      const values = new Array<Value>(groups.countOf(level)).fill(null)
      for (const record of answers[level + 1]) {
        const path = levels.slice(0, level + 1).map(one => one.keyIn(record))
        const group = groups.find(path)
        if (group >= 0) values[group] = sure(made).valueIn(record, all)
      }
      return values
    }),
  }))
}

/** What the groups of a level are ordered by, where that is a summary. */
export async function measureGroups(
  context: ServiceContext,
  query: RowsQuery,
  levels: readonly LevelQuery[],
  asked: SummaryAsked,
  signal?: AbortSignal,
): Promise<Measures> {
  const made = gathered(asked, 0, context)
  if (!made) return new Map()
  const steps = groupSteps(levels, made.aggregates, narrowingSteps(query))
  const records = await ask(context, steps, signal)
  return new Map(
    records.map(record => [
      pathText(levels.map(level => level.keyIn(record))),
      numberOf(made.valueIn(record, NOTHING_TOLD)),
    ]),
  )
}

const numberOf = (value: Value): number => (value === null ? NaN : Number(value))
