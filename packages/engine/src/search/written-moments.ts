import { hasBit, type Bits } from '../table/bits.ts'
import { DAY_MS } from '../table/calendar.ts'
import type { NumberColumn } from '../table/column.ts'
import type { MomentWriting } from '../table/show-date.ts'
import { fold } from './fold.ts'
import { textSteps, type WordStates } from './word-states.ts'

/** Days between the first and the last up to which their texts are counted. */
const MOST_DAYS = 1 << 17
const SECOND_MS = 1000
const UNKNOWN = 255
const MINUTES = 1440
const SECONDS = 60

/** How a column's moments are written, folded: the day, the time of day, and what stands behind. */
export interface WrittenMoments {
  readonly by: 'moment'
  readonly writing: MomentWriting
  readonly firstDay: number
  readonly days: number
}

/** The writing of moments from `low` to `high`, in milliseconds; null where they lie too far apart. */
export function writtenMoments(writing: MomentWriting, low: number, high: number): WrittenMoments | null {
  if (low > high) return null
  const firstDay = Math.floor(low / DAY_MS)
  const days = Math.floor(high / DAY_MS) - firstDay + 1
  if (!(days <= MOST_DAYS)) return null
  return { by: 'moment', writing, firstDay, days }
}

/** Whether rows `from` up to `to` lie within the days, and on whole seconds where these are not all that is shown. */
export function momentsFit(moments: WrittenMoments, column: NumberColumn, from: number, to: number): boolean {
  const { firstDay, days, writing } = moments
  const { values, missing } = column
  const low = firstDay * DAY_MS
  const high = (firstDay + days) * DAY_MS
  const whole = writing.second !== null
  for (let row = from; row < to; row++) {
    const value = values[row]
    const fits = value >= low && value < high && (!whole || value % SECOND_MS === 0)
    if (!fits && !(missing && hasBit(missing, row))) return false
  }
  return true
}

/** A word's way through all that moments are made of. */
export interface MomentSteps {
  readonly by: 'moment'
  readonly firstDay: number
  readonly days: number
  /** By day; written when the first row of it is come upon. */
  readonly dates: Uint8Array
  readonly dateState: (day: number) => number
  /** Over a minute of the day and over a second of it; null where these are not shown. */
  readonly minutes: Uint8Array | null
  readonly seconds: Uint8Array | null
  /** By state: whether the word is found when what stands behind the moment was read too. */
  readonly ends: Uint8Array
}

export function momentSteps({ writing, firstDay, days }: WrittenMoments, states: WordStates): MomentSteps {
  const { found } = states
  const { day, minute, second } = writing
  const end = fold(writing.end)
  return {
    by: 'moment',
    firstDay,
    days,
    dates: new Uint8Array(days).fill(UNKNOWN),
    dateState: i => states.after(0, fold(day(firstDay + i))),
    minutes: minute && textSteps(states, MINUTES, i => fold(minute(i))),
    seconds: second && textSteps(states, SECONDS, i => fold(second(i))),
    ends: Uint8Array.from({ length: found + 1 }, (_, state) => Number(states.after(state, end) === found)),
  }
}

/**
 * Sets the bits of the rows whose text holds the word: those of `values`, the first being row `from`, a multiple of 32.
 * Looks at those in `asked` only.
 */
export function findMoments(
  steps: MomentSteps,
  values: Float64Array,
  asked: Bits | null,
  into: Bits,
  from: number,
): void {
  const { firstDay, days, dates, dateState, minutes, seconds, ends } = steps
  for (let start = 0; start < values.length; start += 32) {
    const place = (from + start) >>> 5
    const rows = asked ? asked[place] : -1
    if (rows === 0) continue
    const end = Math.min(values.length, start + 32)
    let hits = 0
    for (let i = start; i < end; i++) {
      if (((rows >>> (i - start)) & 1) === 0) continue
      const value = values[i]
      const days1970 = Math.floor(value / DAY_MS)
      const day = days1970 - firstDay
      // Rows without a value may lie elsewhere.
      if (day < 0 || day >= days) continue
      let state = dates[day]
      if (state === UNKNOWN) dates[day] = state = dateState(day)
      if (minutes) {
        const second = Math.floor((value - days1970 * DAY_MS) / SECOND_MS) | 0
        const minute = (second / SECONDS) | 0
        state = minutes[state * MINUTES + minute]
        if (seconds) state = seconds[state * SECONDS + second - minute * SECONDS]
      }
      hits |= ends[state] << (i - start)
    }
    into[place] |= hits
  }
}
