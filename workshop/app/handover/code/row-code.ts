import type { Field, FieldType } from '@vast-meadow/engine'
import type { HandedGrid } from '../handed-grid'
import { nameCode } from './code-text'

/** What a value is in a row that is given to the grid: its type, and its schema. */
const VALUES: Readonly<Record<FieldType, readonly [type: string, schema: string]>> = {
  text: ['string', 'z.string()'],
  integer: ['number', 'z.int()'],
  number: ['number', 'z.number()'],
  boolean: ['boolean', 'z.boolean()'],
  date: ['string', 'z.iso.date()'],
  time: ['string', 'z.iso.time()'],
  datetime: ['string', 'z.iso.datetime({ offset: true, local: true })'],
  tags: ['readonly string[]', 'z.array(z.string()).readonly()'],
}
/** What a text stands for. */
const MEANT: Readonly<Partial<Record<FieldType, string>>> = {
  date: 'A day, as ISO 8601 has it.',
  time: 'A time of day, as ISO 8601 has it.',
  datetime: 'A moment, as ISO 8601 has it.',
}

/** The type of a row as it is given to the grid, and a schema that checks it. */
export function rowCode({ fields, filled, definition }: HandedGrid): string {
  const always = new Set([...filled, ...definition.key])
  const own = fields.filter(({ computed }) => !computed)
  const lines = own.flatMap(field => {
    const meant = MEANT[field.type]
    const type = typeOf(field)[0] + (always.has(field.key) ? '' : ' | null')
    return [...(meant ? [`  /** ${meant} */`] : []), `  readonly ${nameCode(field.key)}: ${type}`]
  })
  const checks = own.map(field => {
    const schema = typeOf(field)[1] + (always.has(field.key) ? '' : '.nullable()')
    return `  ${nameCode(field.key)}: ${schema},`
  })
  return `import { z } from 'zod'

/** A row as it is given to the grid. */
export interface Row {
${lines.join('\n')}
}

/** Checks rows that come from elsewhere. */
export const rowSchema: z.ZodType<Row> = z.object({
${checks.join('\n')}
})
`
}

/** Numbers that a double cannot hold are given as their digits. */
const typeOf = ({ type, wide }: Field): readonly [string, string] =>
  wide ? ['string', 'z.string()'] : VALUES[type]
