/** Days and milliseconds of the proleptic Gregorian calendar, without time zones. */
export const DAY_MS = 86_400_000

/** Days from 1970-01-01 to the given day (civil-from-days, Howard Hinnant's algorithm); the day must exist. */
export function dayNumber(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year
  const era = Math.floor(y / 400)
  const yearOfEra = y - era * 400
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear
  return era * 146_097 + dayOfEra - 719_468
}

export function daysInMonth(year: number, month: number): number {
  if (month === 2) return (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0 ? 29 : 28
  return month === 4 || month === 6 || month === 9 || month === 11 ? 30 : 31
}

const two = (n: number): string => (n < 10 ? '0' + n : String(n))

/** Days and milliseconds beyond these, before and after 1970, are not in the calendar of dates that browsers keep. */
export const MOST_DAYS = 1e8
export const MOST_MS = MOST_DAYS * DAY_MS

/** `2024-06-14` for a day number; years beyond four digits have a sign and at least six, as ISO 8601 extends them. */
export function isoDay(day: number): string {
  const { year, month, day: date } = civilDay(day)
  const shown =
    year >= 0 && year <= 9999
      ? String(year).padStart(4, '0')
      : `${year < 0 ? '-' : '+'}${String(Math.abs(year)).padStart(6, '0')}`
  return `${shown}-${two(month)}-${two(date)}`
}

/** `09:30:00` of a time in milliseconds, with `.123` only where there is a fraction. */
export function isoClock(ms: number): string {
  const rest = ms - Math.floor(ms / DAY_MS) * DAY_MS
  const second = Math.floor(rest / 1000)
  const fraction = Math.floor(rest - second * 1000)
  const clock = `${two(Math.floor(second / 3600))}:${two(Math.floor(second / 60) % 60)}:${two(second % 60)}`
  return fraction ? `${clock}.${String(fraction).padStart(3, '0')}` : clock
}

/** `2024-06-14 09:30:00` for milliseconds. */
export const isoTime = (ms: number): string => `${isoDay(Math.floor(ms / DAY_MS))} ${isoClock(ms)}`

export interface CivilDay {
  readonly year: number
  /** 1 to 12. */
  readonly month: number
  readonly day: number
}

/** The calendar day of a day number; the inverse of `dayNumber`, by the same author's algorithm. */
export function civilDay(day: number): CivilDay {
  const z = day + 719_468
  const era = Math.floor(z / 146_097)
  const dayOfEra = z - era * 146_097
  const yearOfEra = Math.floor(
    (dayOfEra -
      Math.floor(dayOfEra / 1460) +
      Math.floor(dayOfEra / 36_524) -
      Math.floor(dayOfEra / 146_096)) /
      365,
  )
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100))
  const shifted = Math.floor((5 * dayOfYear + 2) / 153)
  const month = shifted < 10 ? shifted + 3 : shifted - 9
  const year = yearOfEra + era * 400 + (month <= 2 ? 1 : 0)
  return { year, month, day: dayOfYear - Math.floor((153 * shifted + 2) / 5) + 1 }
}
