import { readOne } from '../../read/types/read-one.ts'
import { DAY_MS, isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import { tagsOf } from '../../table/shown-text.ts'
import { many, scalar, type ScalarFunction } from './scalar-function.ts'

const HOUR_MS = 3_600_000
const UNITS_MS: Readonly<Record<string, number>> = { d: DAY_MS, h: HOUR_MS, m: 60_000, s: 1000, ms: 1 }

const toNumber = (text: string): number => readOne(text, 'number').value
const toDate = (text: string): number => readOne(text, 'date').value
const toTime = (text: string): number => readOne(text, 'time').value
const toDatetime = (text: string): number => readOne(text, 'datetime').value

/** Whether a text tells an instant: a date with time that has an offset. */
export const tellsInstant = (text: string): boolean => readOne(text, 'datetime').zoned

/** An instant as text: what tells it apart from wall time stays. */
export const instantText = (ms: number): string => `${isoTime(ms)}Z`

/** `1h30m`, `45s`, `2d`: units from the largest to the smallest, with a sign before all of it. */
const toDuration = (text: string): number => {
  const match = /^(-?)((?:\d+(?:\.\d+)?(?:d|h|ms|m|s))+)$/.exec(text)
  if (!match) return NaN
  let ms = 0
  for (const [, count, unit] of match[2].matchAll(/(\d+(?:\.\d+)?)(ms|[dhms])/g))
    ms += Number(count) * UNITS_MS[unit]
  return match[1] ? -ms : ms
}

export const conversions: readonly ScalarFunction[] = [
  many(
    'double(value)',
    [
      { takes: ['number'], gives: 'number', apply: (x: number) => x },
      { takes: ['text'], gives: 'number', apply: toNumber, decimals: () => 2 },
    ],
    'The number that a text says, as a field of such texts would be read; missing where it says none.',
  ),
  many(
    'int(value)',
    [
      { takes: ['number'], gives: 'number', apply: Math.trunc, decimals: () => 0 },
      {
        takes: ['text'],
        gives: 'number',
        apply: (text: string) => Math.trunc(toNumber(text)),
        decimals: () => 0,
      },
    ],
    'The whole number, without what stands after the point.',
  ),
  many(
    'string(value)',
    [
      { takes: ['text'], gives: 'text', apply: (text: string) => text },
      { takes: ['number'], gives: 'text', apply: String },
      { takes: ['boolean'], gives: 'text', apply: String },
      { takes: ['date'], gives: 'text', apply: isoDay },
      { takes: ['time'], gives: 'text', apply: isoClock },
      { takes: ['datetime'], gives: 'text', apply: isoTime },
      { takes: ['tags'], gives: 'text', apply: (tags: string) => tagsOf(tags).join(', ') },
    ],
    'The value as text; numbers with as many digits as they need, dates as 2024-06-14, instants in UTC with a Z behind, tags with commas.',
  ),
  many(
    'date(value)',
    [
      { takes: ['text'], gives: 'date', apply: toDate },
      { takes: ['datetime'], gives: 'date', apply: (ms: number) => Math.floor(ms / DAY_MS) },
    ],
    'The day that a text as "2024-06-14" says, or of a date with time; other ways of writing as fields have them.',
  ),
  scalar('time(text)', ['text'], 'time', toTime, 'The time that a text as "09:30" says.'),
  scalar(
    'timestamp(text)',
    ['text'],
    'datetime',
    toDatetime,
    'The date with time that a text as "2024-06-14T09:30:00Z" says; without an offset it is wall time.',
  ),
  scalar(
    'duration(text)',
    ['text'],
    'duration',
    toDuration,
    'The length of time that a text as "1h30m" says, in d, h, m, s and ms.',
  ),
]

/** Conversions whose text, where it is written out, must be readable; it is checked before anything runs. */
export const readable = {
  date: toDate,
  time: toTime,
  timestamp: toDatetime,
  duration: toDuration,
}
