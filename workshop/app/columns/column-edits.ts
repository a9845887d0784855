import {
  fieldReference,
  columnFor,
  definitionSchema,
  type ColumnDefinition,
  type ColumnEdit,
  type Definition,
  type Field,
} from '@vast-meadow/engine'
import { said } from '../utils/said'

/** How cells are changed of a column that lets them be. */
export const NEW_EDIT: ColumnEdit = { required: false, whole: false, onlyChoices: true, unique: false }

/** The definition with one column changed. A change with `undefined` takes the setting away. */
export function withColumn(
  definition: Definition,
  key: string,
  change: Partial<ColumnDefinition>,
): Definition {
  const columns = definition.columns.map(column =>
    column.key === key ? said({ ...column, ...change }) : column,
  )
  return { ...definition, columns }
}

/** The same with several columns at once. */
export const withColumns = (
  definition: Definition,
  keys: readonly string[],
  change: Partial<ColumnDefinition>,
): Definition => keys.reduce((changed, key) => withColumn(changed, key, change), definition)

/** The definition without a column, and without what names it. */
export function withoutColumn(definition: Definition, key: string): Definition {
  const columns = definition.columns.filter(column => column.key !== key)
  const styles = definition.styles.flatMap(style => {
    const left = style.columns.filter(column => column !== key)
    // A style that was about this column alone must not spread to the whole row.
    return style.columns.length > 0 && left.length === 0 ? [] : [{ ...style, columns: left }]
  })
  return { ...definition, columns, styles }
}

/** A column for a field that has none yet, behind the others. */
export const addField = (definition: Definition, field: Field, samples: readonly string[]): Definition => ({
  ...definition,
  columns: [...definition.columns, columnFor(field, samples)],
})

/** A computed column that starts by saying what a field says; its key is free. */
export function addComputed(
  definition: Definition,
  fields: readonly Field[],
): { definition: Definition; key: string } {
  const taken = new Set([...definition.columns.map(({ key }) => key), ...fields.map(({ key }) => key)])
  let nth = 1
  while (taken.has(`computed_${nth}`)) nth++
  const key = `computed_${nth}`
  const column = definitionSchema.shape.columns.parse([
    { key, title: `Computed ${nth}`, expression: startingExpression(fields) },
  ])
  return { definition: { ...definition, columns: [...definition.columns, ...column] }, key }
}

function startingExpression(fields: readonly Field[]): string {
  const number = fields.find(({ type }) => type === 'number' || type === 'integer')
  const first = number ?? fields[0]
  return first ? fieldReference(first.key) : '1'
}
