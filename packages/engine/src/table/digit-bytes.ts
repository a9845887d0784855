import { civilDay } from './calendar.ts'

/** Where numbers and days are written as digits, the last one at the end; each writing takes the place of the one before. */
export const digitBytes = new Uint8Array(24)
const END = digitBytes.length
const [ZERO, POINT, MINUS] = [48, 46, 45]
const POWERS = Array.from({ length: 16 }, (_, i) => 10 ** i)

/**
 * Writes a number of up to 15 digits with so many behind its point; returns where it begins in `digitBytes`. `isShort`: zeros at the
 * end, and a point with nothing behind it, are left out.
 */
export function writeDecimal(value: number, places: number, isShort: boolean): number {
  let units = Math.round(Math.abs(value) * POWERS[places])
  let at = END
  let left = places
  if (isShort) {
    while (left > 0 && units % 10 === 0) {
      units /= 10
      left--
    }
  }
  for (; left > 0; left--) {
    const tenth = Math.floor(units / 10)
    digitBytes[--at] = ZERO + (units - tenth * 10)
    units = tenth
    if (left === 1) digitBytes[--at] = POINT
  }
  do {
    const tenth = Math.floor(units / 10)
    digitBytes[--at] = ZERO + (units - tenth * 10)
    units = tenth
  } while (units > 0)
  if (value < 0) digitBytes[--at] = MINUS
  return at
}

/** Writes a day of a year of four digits, `2024-06-14`; returns where it begins in `digitBytes`. */
export function writeDay(dayNumber: number): number {
  const { year, month, day } = civilDay(dayNumber)
  const start = END - 10
  digitBytes[start] = ZERO + Math.floor(year / 1000)
  digitBytes[start + 1] = ZERO + (Math.floor(year / 100) % 10)
  digitBytes[start + 2] = ZERO + (Math.floor(year / 10) % 10)
  digitBytes[start + 3] = ZERO + (year % 10)
  digitBytes[start + 4] = MINUS
  digitBytes[start + 5] = ZERO + Math.floor(month / 10)
  digitBytes[start + 6] = ZERO + (month % 10)
  digitBytes[start + 7] = MINUS
  digitBytes[start + 8] = ZERO + Math.floor(day / 10)
  digitBytes[start + 9] = ZERO + (day % 10)
  return start
}
