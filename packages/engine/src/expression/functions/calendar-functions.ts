import { civilDay, DAY_MS, dayNumber } from '../../table/calendar.ts'
import { zoneOffset } from '../../table/zone.ts'
import type { ValueType } from '../problem.ts'
import { many, scalar, type Overload, type ScalarFunction } from './scalar-function.ts'

const whole = (): number => 0
const HOUR_MS = 3_600_000

const dayOf = (ms: number): number => Math.floor(ms / DAY_MS)
const inDay = (ms: number): number => ms - dayOf(ms) * DAY_MS

/** Ways to ask for a part of a date: of a date, of a date with time, and of that in another zone. */
const partOfDay = (part: (day: number) => number): Overload[] => [
  { takes: ['date'], gives: 'number', apply: part, decimals: whole },
  ...partOfTime(ms => part(dayOf(ms))),
]

const partOfTime = (part: (ms: number) => number): Overload[] => [
  { takes: ['datetime'], gives: 'number', apply: part, decimals: whole },
  {
    takes: ['datetime', 'text'],
    gives: 'number',
    apply: (ms: number, zone: string) => {
      const offset = zoneOffset(zone)
      return offset ? part(ms + offset(ms)) : NaN
    },
    decimals: whole,
  },
]

/** Ways to ask for a part of a clock's time; of a duration, its whole length in that unit. */
const partOfClock = (part: (ms: number) => number, unitMs: number): Overload[] => [
  ...partOfTime(ms => part(inDay(ms))),
  { takes: ['time'], gives: 'number', apply: part, decimals: whole },
  { takes: ['duration'], gives: 'number', apply: (ms: number) => Math.trunc(ms / unitMs), decimals: whole },
]

export const calendarFunctions: readonly ScalarFunction[] = [
  many(
    '.getFullYear(zone)',
    partOfDay(day => civilDay(day).year),
    'The year. The zone, as in "Europe/Madrid", may be left out.',
  ),
  many(
    '.getMonth(zone)',
    partOfDay(day => civilDay(day).month),
    'The month, 1 to 12.',
  ),
  many(
    '.getDate(zone)',
    partOfDay(day => civilDay(day).day),
    'The day of the month, 1 to 31.',
  ),
  many('.getDayOfYear(zone)', partOfDay(dayOfYear), 'The day of the year, 1 to 366.'),
  many(
    '.getDayOfWeek(zone)',
    partOfDay(day => ((((day + 3) % 7) + 7) % 7) + 1),
    'The day of the week, 1 for Monday to 7 for Sunday.',
  ),
  many(
    '.getHours(zone)',
    partOfClock(ms => Math.floor(ms / HOUR_MS), HOUR_MS),
    'The hour, 0 to 23; of a duration, its whole hours.',
  ),
  many(
    '.getMinutes(zone)',
    partOfClock(ms => Math.floor(ms / 60_000) % 60, 60_000),
    'The minute, 0 to 59; of a duration, its whole minutes.',
  ),
  many(
    '.getSeconds(zone)',
    partOfClock(ms => Math.floor(ms / 1000) % 60, 1000),
    'The second, 0 to 59; of a duration, its whole seconds.',
  ),
  many(
    '.getMilliseconds(zone)',
    partOfClock(ms => Math.floor(ms) % 1000, 1),
    'The milliseconds, 0 to 999; of a duration, all of it.',
  ),
  scalar(
    '.getDays()',
    ['duration'],
    'number',
    (ms: number) => Math.trunc(ms / DAY_MS),
    'The whole days of a duration.',
    whole,
  ),
]

function dayOfYear(day: number): number {
  return day - dayNumber(civilDay(day).year, 1, 1) + 1
}

/** The types that are kept as numbers; they compare as such. */
export const NUMBER_LIKE: ReadonlySet<ValueType> = new Set<ValueType>([
  'number',
  'date',
  'time',
  'datetime',
  'duration',
])
