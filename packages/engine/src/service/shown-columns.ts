import { bindColumns, parseColumns, type ComputedProblem } from '../expression/expressions.ts'
import { placesOf } from '../expression/typed.ts'
import { PLAIN_BINDING, type Binding } from '../flow/view-request.ts'
import type { RowCells } from '../question/row-cells.ts'
import { PageSource } from '../source/page-source.ts'
import type { Field } from '../table/column.ts'
import { asRowId } from '../table/row-id.ts'
import type { Property, ServiceSchema } from './schema.ts'
import type { Json } from './values.ts'
import { tableOfRecords } from './table-of-records.ts'

/**
 * The columns of a view: those of the service, and those that the page works out from them, row by row as rows come.
 * The service knows nothing of the latter, so that they can be shown and no more.
 */
export class ShownColumns {
  /** Those of the service, and behind them those that are worked out. */
  readonly fields: readonly Field[]
  readonly problems: readonly ComputedProblem[]
  private readonly schema: Pick<ServiceSchema, 'properties'>
  private readonly binding: Binding
  /** By key: the properties that a worked-out column reads. */
  private readonly reads: ReadonlyMap<string, readonly Property[]>

  private constructor(
    schema: Pick<ServiceSchema, 'properties'>,
    binding: Binding,
    made: {
      readonly fields: readonly Field[]
      readonly problems: readonly ComputedProblem[]
      readonly reads: ReadonlyMap<string, readonly Property[]>
    },
  ) {
    this.schema = schema
    this.binding = binding
    this.fields = made.fields
    this.problems = made.problems
    this.reads = made.reads
  }

  static async of(
    schema: Pick<ServiceSchema, 'properties'>,
    binding: Binding = PLAIN_BINDING,
  ): Promise<ShownColumns> {
    const own = schema.properties.map(({ field }) => field)
    const parsed = await parseColumns(binding.computed)
    const { bound, problems } = bindColumns(parsed, own)
    const reads = new Map<string, readonly Property[]>()
    const behind: (readonly Property[])[] = schema.properties.map(property => [property])
    for (const { field, typed } of bound) {
      const properties = [...new Set([...placesOf(typed)].flatMap(place => behind[place]))]
      reads.set(field.key, properties)
      behind.push(properties)
    }
    const shown = bound.flatMap(({ field }) => (field.internal ? [] : [field]))
    return new ShownColumns(schema, binding, { fields: [...own, ...shown], problems, reads })
  }

  /** What must be read of a row to show some columns. */
  propertiesFor(columns: readonly string[]): readonly Property[] {
    const { properties } = this.schema
    const wanted = new Set<Property>()
    for (const key of columns) {
      const own = properties.find(({ field }) => field.key === key)
      for (const property of own ? [own] : (this.reads.get(key) ?? [])) wanted.add(property)
    }
    return properties.filter(property => wanted.has(property))
  }

  /** The cells of rows as the service told them: rows × columns. */
  async cells(records: readonly Json[], columns: readonly string[]): Promise<RowCells> {
    const source = new PageSource({ kind: 'table', table: tableOfRecords(this.schema.properties, records) })
    try {
      await source.open()
      const rows = records.map((_, row) => asRowId(row))
      return await source.ask('rowCells', { rows, columns, binding: this.binding })
    } finally {
      source.close()
    }
  }
}
