import { sql } from 'kysely'
import type { Dialect, Sql, TimeKind } from './dialect.ts'
import { STROKES, withPairs } from './folding.ts'

const types: Dialect['types'] = {
  text: sql`text`,
  integer: sql`bigint`,
  number: sql`double precision`,
  boolean: sql`boolean`,
  date: sql`date`,
  time: sql`time`,
  moment: sql`timestamptz`,
  wall: sql`timestamp`,
}

/** Accents and points of Latin, Greek, Cyrillic, Hebrew and Arabic letters, as the engine's patterns write them. */
const MARKS =
  '\\u0300-\\u036f\\u0483-\\u0489\\u0591-\\u05bd\\u05bf\\u05c1\\u05c2\\u05c4\\u05c5\\u05c7\\u0610-\\u061a\\u064b-\\u065f\\u0670\\u06d6-\\u06dc\\u06df-\\u06e4\\u06e7\\u06e8\\u06ea-\\u06ed'

/**
 * Says it as PostgreSQL understands it, and what speaks its protocol. What is said depends on no setting of a session
 * where that can be, so that it is also said to the servers behind a foreign table. `collation`: by which one texts are
 * ordered; columns that have it themselves are ordered as they stand.
 */
export function postgresDialect(collation: string): Dialect {
  const text = (of: Sql): Sql => sql`cast(${of} as text)`
  const collated = (of: Sql): Sql => sql`${text(of)} collate ${sql.id(collation)}`
  return {
    name: 'PostgreSQL',
    differences: {
      order: `Texts are ordered by the collation “${collation}”.`,
      sums: 1e-12,
    },
    fold(of) {
      const lower = sql`lower(${text(of)})`
      const bare = sql`regexp_replace(normalize(${lower}, nfd), ${sql.lit(`[${MARKS}]`)}, '', 'g')`
      const plain = withPairs(
        sql`translate(normalize(${bare}, nfc), ${sql.lit(STROKES[0])}, ${sql.lit(STROKES[1])})`,
      )
      // Most texts have no letter that could be folded.
      return sql`case when ${text(of)} !~ '[^\\u0001-\\u00bf]' then ${lower} else ${plain} end`
    },
    lines: texts =>
      sql.join(
        texts.map(of => sql`case when ${of} is null then '' else ${text(of)} end`),
        sql` || ${sql.lit('\n')} || `,
      ),
    collated,
    // A value with a collation of its own is not told to servers behind a foreign table.
    uncollated: of => sql`(${of} collate "default")`,
    contains: (of, part) => sql`(strpos(${text(of)}, ${part}) > 0)`,
    starts: (of, part) => sql`starts_with(${text(of)}, ${part})`,
    ends: (of, part) => sql`(right(${text(of)}, length(${part})) = ${part})`,
    position: (of, part) => sql`(strpos(${text(of)}, ${part}) - 1)`,
    // Its patterns can take time that grows without bounds.
    matches: null,
    datePart: (part, of, kind) => numberOf(part, of, kind),
    startOf: (period, of, kind) => {
      const start = sql`date_trunc(${sql.lit(period)}, ${local(of, kind)})`
      return kind === 'moment' ? sql`(${start} at time zone 'UTC')` : start
    },
    partOf: (part, of, kind) => numberOf(part === 'weekday' ? 'isodow' : part, of, kind),
    round: of => sql`trunc(${of} + sign(${of}) * 0.5)`,
    remainder: (of, by, whole) =>
      whole
        ? sql`(${of} % ${by})`
        : sql`cast(mod(cast(${of} as numeric), cast(${by} as numeric)) as double precision)`,
    // Unlike others ways to say so, this one is also said to servers behind a foreign table.
    sure: condition => sql`case when ${condition} then true else false end`,
    types,
    decimal: () => sql`numeric`,
    texts: list => sql`cast(array[${sql.join(list)}] as text[])`,
    holds: true,
    columnar: false,
    anyOf: (texts, test) =>
      sql`exists (select 1 from unnest(${texts}) as several(one) where ${test(sql`several.one`)})`,
    fewTexts: null,
    numberOf: (of, kind) =>
      kind === 'date'
        ? sql`cast(${of} - date '1970-01-01' as double precision)`
        : sql`cast(extract(epoch from ${of}) * 1000 as double precision)`,
    quantile: (of, at) => sql`percentile_cont(${sql.lit(at)}) within group (order by ${of})`,
    valueAt: (of, at) => sql`percentile_disc(${sql.lit(at)}) within group (order by ${of})`,
    frequent: (_, by) => sql`mode() within group (order by ${by})`,
    endOf(which, of, order) {
      const all = sql`array_agg(${of} order by ${sql.join(order)}) filter (where ${of} is not null)`
      return sql`(${all})[${which === 'first' ? sql`1` : sql`count(${of})`}]`
    },
    deviation: of => sql`stddev_samp(${of})`,
    extreme: (which, of) => sql`${sql.raw(which)}(${collated(of)})`,
  }
}

/** A moment without its zone, in UTC: what is worked out from it depends on no session. */
const local = (of: Sql, kind: TimeKind): Sql =>
  kind === 'moment' ? sql`(${of} at time zone 'UTC')` : kind === 'date' ? sql`cast(${of} as timestamp)` : of

const numberOf = (part: string, of: Sql, kind: TimeKind): Sql =>
  sql`cast(floor(extract(${sql.raw(part)} from ${local(of, kind)})) as bigint)`
