import * as z from 'zod/mini'
import '../../zod.ts'
import { nearestName } from '../../table/nearest-name.ts'
import { tagsOf } from '../../table/shown-text.ts'
import { conditionKind, EVERY, type Ask, type AskedOf, type OwnCondition } from './kind.ts'

export const ownValuesSchema = z.json()

const ownSchema = z.object({
  kind: z.literal('own'),
  name: z.string().check(z.minLength(1), z.describe('Which condition of `parts.conditions`.')),
  values: z._default(ownValuesSchema, null).check(z.describe('What that condition needs to know.')),
})
type OwnPart = z.infer<typeof ownSchema>

type Found =
  | { readonly ok: true; readonly own: OwnCondition; readonly values: unknown }
  | { readonly ok: false; readonly ask: Ask }

function find(part: OwnPart, of: AskedOf): Found {
  const refuse = (problem: Extract<Ask, { by: 'nothing' }>['problem']): Found => ({
    ok: false,
    ask: { by: 'nothing', problem },
  })
  const { name } = part
  const own = of.own[name]
  if (!own) return refuse({ code: 'unknown-kind', name, nearest: nearestName(name, Object.keys(of.own)) })
  if (own.types && !own.types.includes(of.field.type))
    return refuse({ code: 'not-for-type', kind: name, type: of.field.type })
  const read = own.values.safeParse(part.values)
  if (!read.success) return refuse({ code: 'values-not-valid', name, reason: read.error.issues[0].message })
  return { ok: true, own, values: read.data }
}

function askOwn(part: OwnPart, of: AskedOf): Ask {
  const found = find(part, of)
  if (!found.ok) return found.ask
  const { own, values } = found
  if (own.rows) {
    const rows = own.rows.bind(own)
    return { by: 'rows', name: part.name, rows: (column, count) => rows(column, values, count) }
  }
  const tags = of.field.type === 'tags'
  return {
    by: 'value',
    name: part.name,
    test: value => own.test?.(tags ? tagsOf(String(value)) : value, values) ?? false,
  }
}

/** A part that a host's own condition answers. */
export const own = conditionKind({
  name: 'own',
  description: 'What the host’s condition `name` says of `values`.',
  schema: ownSchema,
  types: EVERY,
  ask: askOwn,
  summary: (part, show, words) => {
    const condition = words.own[part.name]
    const read = condition?.values.safeParse(part.values)
    return condition && read?.success ? condition.summary(read.data, show) : part.name
  },
  phrase: ({ name, values }, { quoted, json }) =>
    `own ${quoted(name)}${values === null ? '' : ` ${json(values)}`}`,
  expression: () => null,
})
