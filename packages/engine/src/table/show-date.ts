import { DEFAULT_LOCALE } from './default-locale.ts'
import { DAY_MS, isoClock, isoDay, isoTime } from './calendar.ts'
import type { DateStyle, Format } from './format.ts'
import { zoneOffset } from './zone.ts'

const STYLES: Readonly<Record<Exclude<DateStyle, 'iso' | 'relative'>, Intl.DateTimeFormatOptions>> = {
  short: { day: '2-digit', month: '2-digit', year: 'numeric' },
  medium: { day: '2-digit', month: 'short', year: 'numeric' },
  long: { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' },
  month: { month: 'long', year: 'numeric' },
}

const localeOf = (format: Format): string => format.locale ?? DEFAULT_LOCALE

/** Writes day numbers. */
export function showDay(format: Format): (day: number) => string {
  if (format.date === 'relative') {
    const today = Math.floor((format.now ?? Date.now()) / DAY_MS)
    const relative = relativeTo(format)
    return day => relative((day - today) * DAY_MS, DAY_MS)
  }
  return writeDay(format)
}

function writeDay({ date = 'iso', locale = DEFAULT_LOCALE }: Format): (day: number) => string {
  if (date === 'iso' || date === 'relative') return isoDay
  const intl = new Intl.DateTimeFormat(locale, { ...STYLES[date], timeZone: 'UTC' })
  return day => intl.format(day * DAY_MS)
}

/** Writes milliseconds of a day. */
export function showTimeOfDay({ date = 'iso', locale = DEFAULT_LOCALE }: Format): (ms: number) => string {
  if (date === 'iso' || date === 'relative') return isoClock
  const style = date === 'short' || date === 'month' ? 'short' : 'medium'
  const intl = new Intl.DateTimeFormat(locale, { timeStyle: style, timeZone: 'UTC' })
  return ms => intl.format(ms)
}

/**
 * Writes dates with time, in milliseconds. Instants are shown in the format's zone, with its short name behind them;
 * wall time as it is.
 */
export function showTime(zoned: boolean, format: Format): (ms: number) => string {
  const { date = 'iso', zone } = format
  if (date === 'relative') {
    const now = format.now ?? Date.now()
    const relative = relativeTo(format)
    return ms => relative(ms - now, 1000)
  }
  const offset = zoned && zone ? zoneOffset(zone) : null
  const local = (ms: number): number => (offset ? ms + offset(ms) : ms)
  const end = zoned ? zoneName(offset ? zone : undefined) : () => ''
  if (date === 'iso') return ms => isoTime(local(ms)) + end(ms)
  const day = oncePerDay(writeDay(format))
  const dayOnly = date === 'month'
  return ms => {
    const at = local(ms)
    const text = day(Math.floor(at / DAY_MS))
    return dayOnly ? text : text + minuteOfDay(minuteAt(at)) + end(ms)
  }
}

/** How moments are written that are made of nothing but their day, minute and second. */
export interface MomentWriting {
  readonly day: (day: number) => string
  /** By minute of the day and second of the minute; null where these are not shown. Fractions of a second are left out. */
  readonly minute: ((minute: number) => string) | null
  readonly second: ((second: number) => string) | null
  /** What stands behind every moment. */
  readonly end: string
}

/** The rule by which moments are written in their own day and time; null where it depends on the moment. */
export function momentWriting(zoned: boolean, format: Format): MomentWriting | null {
  const { date = 'iso', zone = 'UTC' } = format
  if (date === 'relative' || (zoned && zone !== 'UTC')) return null
  const minute = date === 'month' ? null : minuteOfDay
  const second = date === 'iso' ? (at: number) => isoClock(at * 1000).slice(5) : null
  return { day: writeDay(format), minute, second, end: zoned && minute ? ' UTC' : '' }
}

const MINUTE_MS = 60_000
const minutes: string[] = []

const minuteAt = (ms: number): number => Math.floor((ms - Math.floor(ms / DAY_MS) * DAY_MS) / MINUTE_MS)

/** A space and the hour and minute of a moment; each of a day's is written once. */
const minuteOfDay = (minute: number): string =>
  (minutes[minute] ??= ` ${isoClock(minute * MINUTE_MS).slice(0, 5)}`)

/** Days beyond which what was written is forgotten, so that memory is bounded. */
const MOST_DAYS = 65_536

/** Moments of one day share its text, which the locale takes some microseconds to write. */
function oncePerDay(write: (day: number) => string): (day: number) => string {
  const known = new Map<number, string>()
  return day => {
    let text = known.get(day)
    if (text === undefined) {
      if (known.size > MOST_DAYS) known.clear()
      known.set(day, (text = write(day)))
    }
    return text
  }
}

function zoneName(zone: string | undefined): (ms: number) => string {
  if (!zone || zone === 'UTC') return () => ' UTC'
  const intl = new Intl.DateTimeFormat(DEFAULT_LOCALE, { timeZone: zone, timeZoneName: 'short' })
  return ms => ` ${intl.formatToParts(ms).find(part => part.type === 'timeZoneName')?.value ?? zone}`
}

const UNITS: readonly (readonly [Intl.RelativeTimeFormatUnit, number])[] = [
  ['year', 365.2425 * DAY_MS],
  ['month', (365.2425 / 12) * DAY_MS],
  ['week', 7 * DAY_MS],
  ['day', DAY_MS],
  ['hour', 3_600_000],
  ['minute', 60_000],
  ['second', 1000],
]

/** Writes a distance in time in the largest unit that it holds one of; no finer than `finest`. */
function relativeTo(format: Format): (ms: number, finest: number) => string {
  const intl = new Intl.RelativeTimeFormat(localeOf(format), { numeric: 'auto' })
  return (ms, finest) => {
    const fits = UNITS.find(([, size]) => Math.abs(ms) >= size || size <= finest)
    const [unit, size] = fits ?? UNITS[UNITS.length - 1]
    return intl.format(Math.trunc(ms / size), unit)
  }
}
