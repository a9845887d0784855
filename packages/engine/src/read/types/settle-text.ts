import { type Allocate } from '../../table/allocate.ts'
import { settleColumn } from '../../table/settle-table.ts'
import type { Column, Field } from '../../table/column.ts'
import type { Work } from '../../work/work.ts'
import type { ColumnReading, ColumnReadOptions } from './column-reading.ts'
import { convertText } from './convert-text.ts'
import { NO_MISFITS, surveyTexts, type TextColumn, type TextSurvey } from './survey-texts.ts'
import type { TextStyle } from './text-style.ts'

export interface Settled {
  readonly field: Field
  readonly column: Column
  readonly reading: ColumnReading
}

/**
 * What becomes of a column that was read as text: what the builder asked for, else what every value of it says, else
 * text. `numbers`: whether texts may be taken for numbers and truth values without being asked (in delimited text they
 * may; where the format has numbers of its own they stay text, and only their likeness is told). `known`: what a survey
 * of the column would tell, where that is known already.
 */
export function* settleText(
  key: string,
  column: TextColumn,
  rows: number,
  asked: ColumnReadOptions | undefined,
  numbers: boolean,
  allocate: Allocate,
  known: TextSurvey | null = null,
): Work<Settled> {
  if (asked?.type && asked.type !== 'text') {
    const style: TextStyle = { ...asked, type: asked.type }
    const { field, column: read, misfits, finer } = yield* convertText(key, column, rows, style)
    const reading = {
      key,
      type: field.type,
      asked: true,
      style,
      likely: null,
      ambiguous: null,
      misfits,
      ...(finer > 0 && { finer }),
    }
    return { field, column: settleColumn(read, allocate), reading }
  }
  const isAsked = asked?.type === 'text'
  const survey = known ?? (yield* surveyTexts(column, rows))
  const { style, ambiguous, misfits } = survey
  const temporal = style !== null && ['date', 'time', 'datetime'].includes(style.type)
  if (!isAsked && style && misfits.count === 0 && (numbers || temporal)) {
    const { field, column: read, finer } = yield* convertText(key, column, rows, style)
    const reading = {
      key,
      type: field.type,
      asked: false,
      style,
      likely: null,
      ambiguous,
      misfits: NO_MISFITS,
      ...(finer > 0 && { finer }),
    }
    return { field, column: settleColumn(read, allocate), reading }
  }
  const reading = {
    key,
    type: 'text' as const,
    asked: isAsked,
    style: null,
    likely: style,
    ambiguous,
    misfits,
  }
  return { field: { key, type: 'text' }, column: settleColumn(column, allocate), reading }
}

/** The reading of a column whose type the format itself gave. */
export const plainReading = (field: Field): ColumnReading => ({
  key: field.key,
  type: field.type,
  asked: false,
  style: null,
  likely: null,
  ambiguous: null,
  misfits: NO_MISFITS,
})
