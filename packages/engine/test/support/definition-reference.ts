import { definitionJsonSchema } from '../../src/definition/definition.ts'

interface Schema {
  readonly type?: string
  readonly description?: string
  readonly const?: unknown
  readonly enum?: readonly unknown[]
  readonly default?: unknown
  readonly minimum?: number
  readonly maximum?: number
  readonly anyOf?: readonly Schema[]
  readonly oneOf?: readonly Schema[]
  readonly items?: Schema
  readonly properties?: Readonly<Record<string, Schema>>
  readonly additionalProperties?: Schema | boolean
  readonly required?: readonly string[]
}

/** The tables of `docs/definition.md`, made from the schema itself. */
export function definitionReference(): string {
  const schema = definitionJsonSchema() as Schema
  const column = schema.properties!.columns!.items!
  const format = column.properties!.format!
  return [
    table('The document', schema),
    table('A column', column),
    table('A column’s format', format),
    kinds('A column’s cell', column.properties!.cell!),
    table('A style rule', schema.properties!.styles!.items!),
    table('The look', schema.properties!.look!),
    kinds('The fit', schema.properties!.fit!),
    table('Pages', schema.properties!.pages!),
    table('An arrangement (`start`)', schema.properties!.start!),
  ].join('\n\n')
}

function table(title: string, { properties = {}, required = [] }: Schema): string {
  const rows = Object.entries(properties).map(([name, property]) => {
    const needed = required.includes(name) ? 'needed' : defaultOf(property)
    return `| \`${name}\` | ${typeOf(property)} | ${needed} | ${property.description ?? ''} |`
  })
  return [
    `## ${title}`,
    '',
    '| name | holds | without it | says |',
    '| --- | --- | --- | --- |',
    ...rows,
  ].join('\n')
}

/** One of several kinds: a line a kind, with what each asks for. */
function kinds(title: string, { oneOf = [] }: Schema): string {
  const rows = oneOf.map(({ properties = {}, required = [], description = '' }) => {
    const { kind, ...others } = properties
    const asked = Object.entries(others).map(([name, property]) => {
      const needed = required.includes(name) ? 'needed' : defaultOf(property)
      return `\`${name}\` (${typeOf(property)}; ${needed}): ${property.description ?? ''}`
    })
    return `| \`${String(kind.const)}\` | ${description} | ${asked.join('<br>')} |`
  })
  return [`## ${title}`, '', '| kind | is | asks for |', '| --- | --- | --- |', ...rows].join('\n')
}

function defaultOf({ default: value }: Schema): string {
  if (value === undefined) return '–'
  return typeof value === 'object' && value !== null && Object.keys(value).length === 0
    ? Array.isArray(value)
      ? 'none'
      : 'nothing'
    : `\`${JSON.stringify(value)}\``
}

function typeOf(schema: Schema): string {
  if (schema.const !== undefined) return `\`${JSON.stringify(schema.const)}\``
  if (schema.enum) return schema.enum.map(value => `\`${String(value)}\``).join(', ')
  if (schema.oneOf) return `one of ${schema.oneOf.length} kinds`
  if (schema.anyOf) return schema.anyOf.map(typeOf).join(' or ')
  if (schema.type === 'array') return `list of ${schema.items ? typeOf(schema.items) : 'values'}`
  if (schema.type === 'integer' || schema.type === 'number') {
    const { minimum, maximum } = schema
    const bounded = minimum !== undefined && maximum !== undefined && Math.abs(maximum) < 1e9
    return bounded ? `${schema.type}, ${minimum} to ${maximum}` : schema.type
  }
  return schema.type ?? 'object'
}
