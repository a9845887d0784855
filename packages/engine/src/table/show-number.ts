import { DEFAULT_LOCALE } from './default-locale.ts'
import { withDecimals } from './digits.ts'
import type { Format, NumberStyle } from './format.ts'

/** Writes numbers; those that no double tells apart come as their digits. `decimals`: of the data. */
export function showNumber(format: Format, decimals: number): (value: number | string) => string {
  const { number: style = 'plain' } = format
  if (style === 'plain') return plain(format.decimals ?? decimals)
  const intl = intlFor(format, style, decimals)
  if (!intl) return plain(format.decimals ?? decimals)
  // Digits are written exactly, whatever their number.
  return value => intl.format(typeof value === 'string' ? (value as `${number}`) : value)
}

function plain(decimals: number): (value: number | string) => string {
  // toFixed turns to exponents at 1e21 and would pad them with wrong digits before.
  return value => {
    if (typeof value === 'string') return withDecimals(value, decimals)
    return !Number.isFinite(value) || Math.abs(value) >= 1e15 ? String(value) : value.toFixed(decimals)
  }
}

/** null where the locale, currency or unit is none; numbers are then written plain. */
function intlFor(format: Format, style: NumberStyle, decimals: number): Intl.NumberFormat | null {
  const { locale = DEFAULT_LOCALE, currency = 'EUR', unit = 'meter' } = format
  const shift = style === 'percent' ? -2 : 0
  const digits = format.decimals ?? Math.max(0, Math.min(15, decimals + shift))
  const fixed = { minimumFractionDigits: digits, maximumFractionDigits: digits }
  try {
    switch (style) {
      case 'compact':
        return new Intl.NumberFormat(locale, {
          notation: 'compact',
          maximumFractionDigits: format.decimals ?? 1,
        })
      case 'percent':
        return new Intl.NumberFormat(locale, { style: 'percent', ...fixed })
      case 'currency':
        return new Intl.NumberFormat(locale, {
          style: 'currency',
          currency,
          // A currency knows its digits.
          ...(format.decimals === undefined ? {} : fixed),
        })
      case 'unit':
        return new Intl.NumberFormat(locale, { style: 'unit', unit, unitDisplay: 'short', ...fixed })
      default:
        return new Intl.NumberFormat(locale, fixed)
    }
  } catch {
    return null
  }
}
