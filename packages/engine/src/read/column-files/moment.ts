import { DAY_MS, isoClock, isoDay, MOST_DAYS, MOST_MS } from '../../table/calendar.ts'
import { UNITS, type Unit } from './logical-type.ts'

/** A point in time, cut down to what is kept. */
export interface Kept {
  /** Days, or milliseconds; within the calendar. */
  readonly value: number
  /** It was told finer than milliseconds. */
  readonly finer: boolean
}

const PER_MS: Readonly<Record<Unit, number>> = { second: 1, milli: 1, micro: 1e3, nano: 1e6 }
const PER_DAY = BigInt(DAY_MS)
const MOST_64 = 2n ** 63n - 1n
/** Writers say that a time is infinitely far by the outermost numbers of their range. */
const INFINITE: ReadonlyMap<bigint | number, string> = new Map<bigint | number, string>([
  [MOST_64, 'infinity'],
  [-MOST_64, '-infinity'],
  [-MOST_64 - 1n, '-infinity'],
  [2 ** 31 - 1, 'infinity'],
  [-(2 ** 31) + 1, '-infinity'],
])

/** The largest whole number that is not more than a quotient. */
function floorDivided(value: bigint, by: bigint): bigint {
  const quotient = value / by
  return value % by < 0n ? quotient - 1n : quotient
}

/** Units since 1970 in milliseconds, floored; where they lie outside of the calendar, the text that says them. */
export function keptMoment(raw: number | bigint, unit: Unit, zoned: boolean): Kept | string {
  const near = Number(raw)
  if (Number.isSafeInteger(near)) {
    const perMs = PER_MS[unit]
    const ms = unit === 'second' ? near * 1000 : Math.floor(near / perMs)
    if (Math.abs(ms) <= MOST_MS) return { value: ms, finer: unit !== 'second' && ms * perMs !== near }
  }
  if (typeof raw === 'number' && !Number.isInteger(raw)) return String(raw)
  const units = BigInt(raw)
  const infinite = INFINITE.get(units)
  if (infinite) return infinite
  const perSecond = UNITS[unit]
  const ms = perSecond < 1000n ? units * 1000n : floorDivided(units, perSecond / 1000n)
  if (ms >= -BigInt(MOST_MS) && ms <= BigInt(MOST_MS))
    return { value: Number(ms), finer: perSecond > 1000n && units % (perSecond / 1000n) !== 0n }
  const day = floorDivided(ms, PER_DAY)
  return `${isoDay(Number(day))}T${isoClock(Number(ms - day * PER_DAY))}${zoned ? 'Z' : ''}`
}

/** Units since midnight in milliseconds; where they are not within a day, the text that says them. */
export function keptTime(raw: number | bigint, unit: Unit): Kept | string {
  const units = BigInt(raw)
  const perSecond = UNITS[unit]
  const ms = perSecond < 1000n ? units * 1000n : floorDivided(units, perSecond / 1000n)
  if (ms >= 0n && ms < PER_DAY)
    return { value: Number(ms), finer: perSecond > 1000n && units % (perSecond / 1000n) !== 0n }
  return ms === PER_DAY ? '24:00:00' : durationText(raw, unit)
}

/** A day by its number, or by the milliseconds of its beginning; where it is outside of the calendar, its text. */
export function keptDay(raw: number | bigint, of: 'day' | 'milli'): Kept | string {
  const infinite = INFINITE.get(raw)
  if (infinite) return infinite
  const days = of === 'day' ? Number(raw) : Number(floorDivided(BigInt(raw), PER_DAY))
  return Math.abs(days) <= MOST_DAYS ? { value: days, finer: false } : isoDay(days)
}

/** A length of time as ISO 8601 has it: `PT1.5S`, `-P1D`. */
export function durationText(raw: number | bigint, unit: Unit): string {
  const units = BigInt(raw)
  const text = clockParts(units < 0n ? -units : units, UNITS[unit])
  return `${units < 0n ? '-' : ''}P${text || 'T0S'}`
}

/** Months, days and nanoseconds, each with its own sign: `P1Y2M3DT4H0.5S`. */
export function intervalText([months, days, nanos]: readonly (number | bigint)[]): string {
  const all = BigInt(months)
  const years = all / 12n
  const rest = all % 12n
  const date = `${years === 0n ? '' : `${years}Y`}${rest === 0n ? '' : `${rest}M`}${BigInt(days) === 0n ? '' : `${days}D`}`
  const units = BigInt(nanos)
  const time = clockParts(units < 0n ? -units : units, UNITS.nano, units < 0n ? '-' : '', false)
  return `P${date}${time}` === 'P' ? 'PT0S' : `P${date}${time}`
}

/** `1DT2H3M4.5S` of so many parts of a second; hours are not made into days unless `withDays`. */
function clockParts(units: bigint, perSecond: bigint, sign = '', withDays = true): string {
  const seconds = units / perSecond
  const fraction = units % perSecond
  const days = withDays ? seconds / 86_400n : 0n
  const left = seconds - days * 86_400n
  const [hours, minutes, second] = [left / 3600n, (left / 60n) % 60n, left % 60n]
  const digits = String(fraction)
    .padStart(String(perSecond).length - 1, '0')
    .replace(/0+$/, '')
  const part = (count: bigint, letter: string): string => (count === 0n ? '' : `${sign}${count}${letter}`)
  const last =
    second === 0n && fraction === 0n ? '' : `${sign}${second}${fraction === 0n ? '' : `.${digits}`}S`
  const time = part(hours, 'H') + part(minutes, 'M') + last
  return part(days, 'D') + (time && `T${time}`)
}
