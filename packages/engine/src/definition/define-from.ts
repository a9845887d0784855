import type { Field } from '../table/column.ts'
import {
  columnSchema,
  DEFINITION_VERSION,
  definitionSchema,
  type ColumnDefinition,
  type Definition,
  type DefinitionInput,
} from './definition.ts'
import { plainColumn } from './plain-column.ts'

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
export const columnFor = (field: Field, samples: readonly string[], characterPx?: number): ColumnDefinition =>
  columnSchema.parse(plainColumn(field, samples, characterPx))
