import { isMissing, type CodedColumn, type PlainColumn } from '../../table/column.ts'
import { textAt, textCount } from '../../table/text-block.ts'
import type { Work } from '../../work/work.ts'
import { textParser, type ParseText, type TextStyle } from './text-style.ts'

export type TextColumn = CodedColumn | PlainColumn

/** A value that is not what the others are: its row (0-based) and its text as it stands. */
export interface Misfit {
  readonly row: number
  readonly text: string
}

export interface Misfits {
  readonly count: number
  /** The first few. */
  readonly examples: readonly Misfit[]
}

export const NO_MISFITS: Misfits = { count: 0, examples: [] }
export const MAX_EXAMPLES = 5

export interface TextSurvey {
  readonly present: number
  /** The style that most values fit, if nearly all do. */
  readonly style: TextStyle | null
  /** Values fit another style as well, which says something else: 03/04/2024, 1,234. */
  readonly ambiguous: TextStyle | null
  readonly misfits: Misfits
}

/** A style is taken for likely when at least this share of the values fit it. */
export const LIKELY_SHARE = 0.9
/** Values looked at before a style that most do not fit is given up. */
const PATIENCE = 1000

interface Candidate {
  readonly style: TextStyle
  readonly parse: ParseText
  fits: number
}

/** Ways of writing that a column is tried for, in the order of preference: the plainer of two that fit equally well comes first. */
export const STYLES: readonly TextStyle[] = [
  { type: 'number' },
  { type: 'number', thousands: ',' },
  { type: 'number', thousands: ' ' },
  { type: 'number', thousands: "'" },
  { type: 'number', decimal: ',' },
  { type: 'number', decimal: ',', thousands: '.' },
  { type: 'number', decimal: ',', thousands: ' ' },
  { type: 'boolean' },
  { type: 'time' },
  { type: 'date', dateOrder: 'ymd' },
  { type: 'date', dateOrder: 'dmy' },
  { type: 'date', dateOrder: 'mdy' },
  { type: 'datetime', dateOrder: 'ymd' },
  { type: 'datetime', dateOrder: 'dmy' },
  { type: 'datetime', dateOrder: 'mdy' },
  { type: 'datetime', dateOrder: 'ymd', zoned: true },
]

const candidates = (): Candidate[] => STYLES.map(style => ({ style, parse: textParser(style), fits: 0 }))

/** Looks at every text of a column and tells what it could be read as. Distinct texts are looked at once. */
export function* surveyTexts(column: TextColumn, rows: number): Work<TextSurvey> {
  const { texts } = column
  const count = textCount(texts)
  const weights = yield* weightsOf(column, rows)
  let alive = candidates()
  let seen = 0
  for (let i = 0; i < count; i++) {
    if (weights && weights[i] === 0) continue
    if (!weights && isMissing(column, i)) continue
    const weight = weights ? weights[i] : 1
    const text = textAt(texts, i).trim()
    seen += weight
    // No style but truth values does without a digit; this spares most words from most tests.
    const first = text.charCodeAt(0)
    const digits = (first >= 48 && first <= 57) || first === 45 || first === 46 || first === 44
    for (const candidate of alive) {
      if (!digits && candidate.style.type !== 'boolean') continue
      if (candidate.parse(text) !== null) candidate.fits += weight
    }
    if (seen >= PATIENCE && (i & 127) === 0) {
      alive = alive.filter(candidate => candidate.fits >= seen * 0.5)
      if (alive.length === 0) break
    }
    if ((i & 4095) === 4095) yield
  }
  const present = yield* presentOf(column, rows)
  const best = alive.reduce<Candidate | null>((a, b) => (!a || b.fits > a.fits ? b : a), null)
  if (!best || best.fits === 0 || best.fits < present * LIKELY_SHARE)
    return { present, style: null, ambiguous: null, misfits: NO_MISFITS }
  const rival = alive.find(
    other => other !== best && other.fits === best.fits && contradicts(best.style, other.style),
  )
  return {
    present,
    style: best.style,
    ambiguous: rival?.style ?? null,
    misfits:
      best.fits === present ? NO_MISFITS : yield* findMisfits(column, rows, best.parse, present - best.fits),
  }
}

/** Both read the same texts, but to other values. */
const contradicts = (a: TextStyle, b: TextStyle): boolean =>
  a.type === b.type &&
  ((a.dateOrder ?? '') !== (b.dateOrder ?? '') || (a.decimal ?? '.') !== (b.decimal ?? '.'))

/** By distinct text: the rows that hold it; null for a column without a dictionary. */
function* weightsOf(column: TextColumn, rows: number): Work<Uint32Array | null> {
  if (column.kind === 'plain') return null
  const weights = new Uint32Array(textCount(column.texts) + 1)
  for (let row = 0; row < rows; row++) {
    if (!isMissing(column, row)) weights[column.codes[row]]++
    if ((row & 131_071) === 131_071) yield
  }
  return weights
}

function* presentOf(column: TextColumn, rows: number): Work<number> {
  if (!column.missing) return rows
  let present = 0
  for (let row = 0; row < rows; row++) if (!isMissing(column, row)) present++
  yield
  return present
}

/** The values that a parser does not read; `count` of them are known to exist. */
function* findMisfits(column: TextColumn, rows: number, parse: ParseText, count: number): Work<Misfits> {
  const examples: Misfit[] = []
  const fits = new Map<number, boolean>()
  for (let row = 0; row < rows && examples.length < Math.min(MAX_EXAMPLES, count); row++) {
    if (isMissing(column, row)) continue
    const at = column.kind === 'coded' ? column.codes[row] : row
    let fit = fits.get(at)
    if (fit === undefined) {
      fit = parse(textAt(column.texts, at).trim()) !== null
      if (column.kind === 'coded') fits.set(at, fit)
    }
    if (!fit) examples.push({ row, text: textAt(column.texts, at) })
    if ((row & 16_383) === 16_383) yield
  }
  return { count, examples }
}
