import type { Field, FieldType } from '../table/column.ts'
import { cellWidth, widthFor } from './column-width.ts'

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

/** What a column is of nothing but its field; all else is as the definition has it by default. */
export interface PlainColumn {
  readonly key: string
  readonly title: string
  readonly width: number
  readonly align: 'start' | 'end'
  readonly cell: { readonly kind: 'text' | 'check' | 'tags' }
}

/** A column of nothing but its field. `samples`: some of its shown texts. */
export function plainColumn(field: Field, samples: readonly string[], characterPx?: number): PlainColumn {
  const title = titleOf(field.key)
  const kind = field.type === 'boolean' ? 'check' : field.type === 'tags' ? 'tags' : 'text'
  const look = { cell: { kind } as const, format: {} }
  return {
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
  }
}
