import { nearestName, type Definition, type Field } from '@vast-meadow/engine'

/** How the fields of new rows differ from what a definition shows. */
export interface FieldChanges {
  /** Columns whose field is gone, and the new field that is likely meant. */
  readonly gone: readonly { readonly key: string; readonly renamedTo: string | null }[]
  /** Fields that no column shows. */
  readonly added: readonly string[]
}

/** null: the fields are those that the definition shows. */
export function changedFields(definition: Definition, fields: readonly Field[]): FieldChanges | null {
  // What is worked out comes from the definition, not with the rows.
  fields = fields.filter(field => !field.computed)
  const known = new Set(fields.map(field => field.key))
  const shown = new Set(definition.columns.map(column => column.key))
  const added = fields.map(field => field.key).filter(key => !shown.has(key))
  const free = new Set(added)
  const gone = definition.columns
    .filter(column => !known.has(column.key) && column.expression === undefined)
    .map(({ key, title }) => {
      const renamedTo = nearestName(key, [...free]) ?? nearestName(title, [...free])
      if (renamedTo !== null) free.delete(renamedTo)
      return { key, renamedTo }
    })
  return gone.length + added.length > 0 ? { gone, added } : null
}
