import { ANY_CLOCK } from '../condition/clock.ts'
import { spanOf } from '../condition/amount.ts'
import type { Field } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { Format } from '../table/format.ts'
import type { CellDefinition } from './cell-schema.ts'

/** Of a column that says nothing of it, in CSS px. */
export const DEFAULT_COLUMN_WIDTH = 140
/** What a character takes on average in cells of 13 px, in CSS px, where nobody has measured it. */
export const CHARACTER_PX = 7.4
const CELL_PADDING_PX = 24
const LEAST_WIDTH = 64
const MOST_WIDTH = 320
/** What stands around the text of a badge, a tag and a button, and a check mark. */
const BADGE_PX = 18
const TAG_PX = 16
const BUTTON_PX = 30
const CHECK_PX = 16
/** Tags are written smaller. */
const SMALLER = 0.92

/** CSS px that a text takes in a cell, by its length: near enough for a starting width. */
const textWidth = (text: string, characterPx = CHARACTER_PX): number =>
  text.length * characterPx + CELL_PADDING_PX

const sensible = (widths: readonly number[]): number =>
  Math.max(LEAST_WIDTH, Math.min(MOST_WIDTH, Math.round(Math.max(0, ...widths))))

/** A width in which all the texts, and cells of the given widths, can be read, within what is sensible for a column. */
export const widthFor = (
  texts: readonly string[],
  cells: readonly number[] = [],
  characterPx = CHARACTER_PX,
): number => sensible([...texts.map(text => textWidth(text, characterPx)), ...cells])

/**
 * CSS px that a value takes in a column's cells, its padding included, as they are drawn there. `sample`: the value as
 * text, as it is shown where no format is given.
 */
export const cellWidth = (
  { cell, format }: { readonly cell: CellDefinition; readonly format: Format },
  field: Field,
  sample: string,
  characterPx = CHARACTER_PX,
): number => shownCellWidth(cell, shownSample(field, format, sample), text => text.length * characterPx)

/** The same of what a cell shows, with texts measured. */
export function shownCellWidth(
  cell: CellDefinition,
  shown: string,
  widthOf: (text: string) => number,
): number {
  const sum = (texts: readonly string[], each: (text: string) => number): number =>
    texts.reduce((all, text) => all + each(text), CELL_PADDING_PX)
  switch (cell.kind) {
    case 'check':
      return CHECK_PX + CELL_PADDING_PX
    case 'picture':
      return cell.width + CELL_PADDING_PX
    case 'badge':
      return widthOf(shown) + CELL_PADDING_PX + BADGE_PX
    case 'tags':
      return sum(shown.split(', '), tag => widthOf(tag) * SMALLER + TAG_PX)
    case 'actions':
      return sum(
        cell.actions.map(({ title }) => title),
        title => widthOf(title) + BUTTON_PX,
      )
    default:
      return widthOf(shown) + CELL_PADDING_PX
  }
}

/** A sample as the column's format writes it. */
function shownSample(field: Field, format: Format, sample: string): string {
  if (field.type === 'text' || field.type === 'tags' || field.type === 'boolean') return sample
  const value = spanOf(sample, { field, clock: ANY_CLOCK })?.from
  if (value === undefined) return sample
  // Digits are written as they are: the nearest double may have fewer.
  return shower(field, format)(field.wide ? value : Number(value))
}
