import type { Field, FieldType } from '../table/column.ts'
import { cellWidth, widthFor } from './column-width.ts'
import {
  columnSchema,
  DEFINITION_VERSION,
  definitionSchema,
  type ColumnDefinition,
  type Definition,
  type DefinitionInput,
} from './definition.ts'

/** A title from a field's name: `cover_pct` becomes `Cover pct`. */
export function titleOf(key: string): string {
  const words = key
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .split(/[\s_.-]+/)
    .filter(Boolean)
  const text = words.join(' ') || key
  return text[0].toUpperCase() + text.slice(1)
}

/** Whether values of the type stand at the end edge, so that their digits do. */
export const isNumeric = (type: FieldType): boolean => type === 'integer' || type === 'number'

/**
 * A definition of nothing but data: every field a column, titled from its name, numbers to the end edge, as wide as
 * the sampled texts ask. `samples`: for each field some of its shown texts.
 */
export function defineFrom(
  title: string,
  fields: readonly Field[],
  samples: readonly (readonly string[])[],
  characterPx?: number,
): Definition {
  return definitionSchema.parse({
    format: 'vast-meadow-grid',
    version: DEFINITION_VERSION,
    title,
    columns: fields.map((field, i) => columnFor(field, samples[i] ?? [], characterPx)),
  } satisfies DefinitionInput)
}

/** A column of nothing but its field. `samples`: some of its shown texts. */
export function columnFor(field: Field, samples: readonly string[], characterPx?: number): ColumnDefinition {
  const title = titleOf(field.key)
  const kind = field.type === 'boolean' ? 'check' : field.type === 'tags' ? 'tags' : 'text'
  const look = { cell: { kind } as const, format: {} }
  return columnSchema.parse({
    key: field.key,
    title,
    // A title has its sort mark beside it.
    width: widthFor(
      [`${title}   `],
      samples.map(text => cellWidth(look, field, text, characterPx)),
      characterPx,
    ),
    align: isNumeric(field.type) ? 'end' : 'start',
    cell: { kind },
  })
}
