import { civilDay, DAY_MS, dayNumber, daysInMonth } from '../table/calendar.ts'
import { instantOf, today, type Clock } from './clock.ts'
import type { CalendarUnit } from './kinds/kind.ts'

/** From a day up to a day, both included; numbers of days since 1970-01-01. */
export interface DaySpan {
  readonly from: number
  readonly to: number
}

const monthSpan = (year: number, month: number, months = 1): DaySpan => {
  const last = month + months - 1
  return { from: dayNumber(year, month, 1), to: dayNumber(year, last, daysInMonth(year, last)) }
}

/** Monday of week 1 of a year as ISO 8601 counts weeks: the week that holds 4 January. */
const firstMonday = (year: number): number => {
  const fourth = dayNumber(year, 1, 4)
  return fourth - weekday(fourth)
}

/** 0 for Monday. */
const weekday = (day: number): number => (((day + 3) % 7) + 7) % 7

/** The days that a text says: `2024`, `2024-Q2`, `2024-06`, `2024-W07` or `2024-06-14`; null where it says none. */
export function daysOf(text: string): DaySpan | null {
  const match = /^(\d{4})(?:-(?:Q([1-4])|W(\d\d)|(\d\d)(?:-(\d\d))?))?$/.exec(text)
  if (!match) return null
  const [year, quarter, week, month, day] = match.slice(1).map(digits => Number(digits ?? 0))
  if (quarter) return monthSpan(year, quarter * 3 - 2, 3)
  if (match[3]) {
    const from = firstMonday(year) + (week - 1) * 7
    return week >= 1 && from < firstMonday(year + 1) ? { from, to: from + 6 } : null
  }
  if (!match[4]) return { from: dayNumber(year, 1, 1), to: dayNumber(year, 12, 31) }
  if (month < 1 || month > 12) return null
  if (!match[5]) return monthSpan(year, month)
  if (day < 1 || day > daysInMonth(year, month)) return null
  const at = dayNumber(year, month, day)
  return { from: at, to: at }
}

/** The times of day that a text says, in milliseconds: `09:30` is a whole minute. */
export function timesOf(text: string): DaySpan | null {
  const match = /^(\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,3}))?)?$/.exec(text)
  if (!match) return null
  const [hour, minute, second] = match.slice(1, 4).map(digits => Number(digits ?? 0))
  if (hour > 23 || minute > 59 || second > 59) return null
  const fraction = Number((match[4] ?? '').padEnd(3, '0'))
  const from = ((hour * 60 + minute) * 60 + second) * 1000 + fraction
  const size = match[4] ? 10 ** (3 - match[4].length) : match[3] ? 1000 : 60_000
  return { from, to: from + size - 1 }
}

const OFFSET = /(Z|[+-]\d\d:\d\d)$/

/**
 * The milliseconds that a text says: any of `daysOf`, or a day and a time with `T` or a space between, with an offset
 * or without. What has no offset is wall time of the zone in a column of instants.
 */
export function momentsOf(text: string, zoned: boolean, zone: string | undefined): DaySpan | null {
  const days = daysOf(text)
  if (days) return daysToMoments(days, zoned, zone)
  const match = /^(\d{4}-\d\d-\d\d)[T ](.+)$/.exec(text)
  const offset = match && OFFSET.exec(match[2])?.[1]
  const day = match && daysOf(match[1])
  const times = match && timesOf(offset ? match[2].slice(0, -offset.length) : match[2])
  if (!day || !times) return null
  const size = times.to - times.from
  const wall = day.from * DAY_MS + times.from
  const at = !zoned ? wall : offset ? wall - offsetMs(offset) : instantOf(wall, zone)
  return { from: at, to: at + size }
}

function offsetMs(offset: string): number {
  if (offset === 'Z') return 0
  const minutes = Number(offset.slice(1, 3)) * 60 + Number(offset.slice(4))
  return (offset[0] === '-' ? -minutes : minutes) * 60_000
}

/** Days as milliseconds from the first to the last, in a zone where they are instants. */
export function daysToMoments({ from, to }: DaySpan, zoned: boolean, zone: string | undefined): DaySpan {
  const start = (day: number): number => (zoned ? instantOf(day * DAY_MS, zone) : day * DAY_MS)
  return { from: start(from), to: start(to + 1) - 1 }
}

/**
 * The days of a calendar unit as it is now: `this` one; the `last` or `next` one; or, with a count, so many of them
 * of which the present one is the last or the first.
 */
export function unitDays(
  clock: Clock,
  which: 'this' | 'last' | 'next',
  unit: CalendarUnit,
  count: number | undefined,
): DaySpan {
  const [from, to] =
    which === 'this'
      ? [0, 0]
      : which === 'last'
        ? count === undefined
          ? [-1, -1]
          : [1 - count, 0]
        : count === undefined
          ? [1, 1]
          : [0, count - 1]
  const now = today(clock)
  return { from: unitAt(now, unit, from).from, to: unitAt(now, unit, to).to }
}

/** The unit that lies so many after the one which a day is in. */
function unitAt(day: number, unit: CalendarUnit, steps: number): DaySpan {
  if (unit === 'day') return { from: day + steps, to: day + steps }
  if (unit === 'week') {
    const from = day - weekday(day) + steps * 7
    return { from, to: from + 6 }
  }
  const months = unit === 'month' ? 1 : unit === 'quarter' ? 3 : 12
  const { year, month } = civilDay(day)
  const first = Math.floor((month - 1) / months) * months + steps * months
  return monthSpan(year + Math.floor(first / 12), (((first % 12) + 12) % 12) + 1, months)
}
