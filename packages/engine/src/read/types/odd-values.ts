import type { FieldType } from '../../table/column.ts'
import { decodeBytes } from '../../table/text-block.ts'
import {
  MAX_EXAMPLES,
  STYLES,
  type Misfit,
  type TextSurvey,
  NO_MISFITS,
  LIKELY_SHARE,
} from './survey-texts.ts'
import { textParser, type TextStyle } from './text-style.ts'

/** So many values that do not fit are looked at one by one; with more, the whole column is. */
const MOST_ODD = 1000

/**
 * Values that do not fit what a column was up to them. Of all others it is known how they read, so that what the column
 * could be read as is told by a look at these alone.
 */
export class OddValues {
  /** What the column was; whole numbers become numbers when one with a point comes. */
  type: FieldType
  private readonly zoned: boolean
  private fits: number
  private readonly texts: Misfit[] = []

  /** What the column was, and how many values fitted it so far. */
  constructor(type: FieldType, zoned: boolean, fits: number) {
    this.type = type
    this.zoned = zoned
    this.fits = fits
  }

  /** Takes a value; false: there are too many odd ones. */
  take(row: number, fits: boolean, bytes: Uint8Array, start: number, end: number): boolean {
    if (fits) this.fits++
    else this.texts.push({ row, text: decodeBytes(bytes, start, end) })
    return this.texts.length <= MOST_ODD
  }

  /** What a survey of the whole column would tell. */
  survey(): TextSurvey {
    const present = this.fits + this.texts.length
    const candidates = this.styles().map(style => {
      const parse = textParser(style)
      const odd = this.texts.filter(({ text }) => parse(text.trim()) === null)
      return { style, odd, fits: present - odd.length }
    })
    const best = candidates.reduce<(typeof candidates)[0] | null>(
      (a, b) => (!a || b.fits > a.fits ? b : a),
      null,
    )
    if (!best || best.fits < present * LIKELY_SHARE)
      return { present, style: null, ambiguous: null, misfits: NO_MISFITS }
    const misfits =
      best.odd.length === 0
        ? NO_MISFITS
        : { count: best.odd.length, examples: best.odd.slice(0, MAX_EXAMPLES) }
    return { present, style: best.style, ambiguous: null, misfits }
  }

  /** The ways of writing in which the values that fitted read as they do. */
  private styles(): TextStyle[] {
    return STYLES.filter(style => {
      switch (this.type) {
        case 'integer':
          return style.type === 'number'
        case 'number':
          return style.type === 'number' && style.decimal !== ','
        case 'date':
          return style.type === 'date' && style.dateOrder === 'ymd'
        case 'datetime':
          return (
            style.type === 'datetime' && style.dateOrder === 'ymd' && (style.zoned ?? false) === this.zoned
          )
        default:
          return style.type === this.type
      }
    })
  }
}
