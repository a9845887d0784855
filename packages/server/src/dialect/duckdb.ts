import { sql } from 'kysely'
import type { Dialect, Sql } from './dialect.ts'
import { STROKES, withPairs } from './folding.ts'

const types: Dialect['types'] = {
  text: sql`varchar`,
  integer: sql`bigint`,
  number: sql`double`,
  boolean: sql`boolean`,
  date: sql`date`,
  time: sql`time`,
  moment: sql`timestamptz`,
  wall: sql`timestamp`,
}

/** Digits that a decimal has at most. */
const MOST_DIGITS = 38

/** Says it as DuckDB understands it. `locale`: by whose rules texts are ordered. */
export function duckdbDialect(locale: string): Dialect {
  const text = (of: Sql): Sql => sql`cast(${of} as varchar)`
  return {
    name: 'DuckDB',
    differences: {
      order: `Texts are ordered by the rules of ICU for “${locale}”.`,
      sums: 1e-12,
    },
    fold(of) {
      const lower = sql`lower(${text(of)})`
      const plain = withPairs(
        sql`translate(strip_accents(${lower}), ${sql.lit(STROKES[0])}, ${sql.lit(STROKES[1])})`,
      )
      // Most texts are ASCII, and are told by having as many bytes as letters: thirty times as quick.
      return sql`case when strlen(${text(of)}) = length(${text(of)}) then ${lower} else ${plain} end`
    },
    lines: null,
    collated: of => sql`icu_sort_key(${text(of)}, ${sql.lit(locale)})`,
    uncollated: of => of,
    contains: (of, part) => sql`contains(${text(of)}, ${part})`,
    starts: (of, part) => sql`starts_with(${text(of)}, ${part})`,
    ends: (of, part) => sql`ends_with(${text(of)}, ${part})`,
    position: (of, part) => sql`(strpos(${text(of)}, ${part}) - 1)`,
    matches: (of, pattern) => sql`regexp_matches(${text(of)}, ${pattern})`,
    datePart: (part, of) => (part === 'second' ? sql`floor(second(${of}))` : sql`${sql.raw(part)}(${of})`),
    round: of => sql`round(${of})`,
    remainder: (of, by) => sql`(${of} % ${by})`,
    sure: condition => sql`coalesce(${condition}, false)`,
    startOf: (period, of) => sql`date_trunc(${sql.lit(period)}, ${of})`,
    partOf: (part, of) => sql`${sql.raw(part === 'weekday' ? 'isodow' : part)}(${of})`,
    types,
    decimal: ({ whole, fraction }) =>
      whole + fraction <= MOST_DIGITS
        ? sql`decimal(${sql.lit(Math.max(1, whole + fraction))}, ${sql.lit(fraction)})`
        : null,
    texts: list => sql`cast([${sql.join(list)}] as varchar[])`,
    holds: false,
    columnar: true,
    anyOf: (texts, test) =>
      sql`len(list_filter(${texts}, lambda one: coalesce(${test(sql`one`)}, false))) > 0`,
    fewTexts: (column, table) =>
      sql`select unnest(enum_range((select ${column} from ${table} limit 0))) as one`,
    numberOf: (of, kind) =>
      kind === 'date'
        ? sql`cast(datediff('day', date '1970-01-01', ${of}) as double)`
        : sql`(epoch_us(${of}) / 1000)`,
    quantile: (of, at) => sql`quantile_cont(${of}, ${sql.lit(at)})`,
    valueAt: (of, at) => sql`quantile_disc(${of}, ${sql.lit(at)})`,
    frequent: (of, by) => sql`mode(${of} order by ${by})`,
    endOf: (which, of, order) =>
      sql`${sql.raw(which)}(${of} order by ${sql.join(order)}) filter (where ${of} is not null)`,
    // Of what has no bounds there is none; the engine would end the whole question.
    deviation(of) {
      const bounded = sql`isfinite(cast(${of} as double))`
      const some = sql`count(*) filter (where not ${bounded})`
      return sql`case when ${some} = 0 then stddev_samp(${of}) filter (where ${bounded}) end`
    },
    extreme: (which, of) =>
      sql`${sql.raw(which === 'min' ? 'arg_min' : 'arg_max')}(${text(of)}, icu_sort_key(${text(of)}, ${sql.lit(locale)}))`,
  }
}
