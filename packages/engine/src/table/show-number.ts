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

/** How numbers are written that are always written by the same rule, digit by digit. */
export interface NumberWriting {
  /** Digits behind the point; always all of them. */
  readonly decimals: number
  readonly positive: Affixes
  readonly negative: Affixes
  /** What stands between groups of three digits, and before the decimals. */
  readonly group: string
  readonly point: string
  /** The ten digits. */
  readonly numerals: readonly string[]
}

interface Affixes {
  readonly before: string
  readonly behind: string
}

const NOTHING: Affixes = { before: '', behind: '' }
const LATIN_DIGITS = Array.from('0123456789')
const INTEGER_PARTS: ReadonlySet<string> = new Set(['integer', 'group', 'decimal', 'fraction'])

/**
 * The rule by which numbers are written, as a guess from a few of them that is to be tried before it is relied on; null
 * where it depends on the number.
 */
export function numberWriting(format: Format, decimals: number): NumberWriting | null {
  const { number: style = 'plain' } = format
  const intl = style === 'plain' ? null : intlFor(format, style, decimals)
  if (!intl) {
    const shown = format.decimals ?? decimals
    const negative = { before: '-', behind: '' }
    return { decimals: shown, positive: NOTHING, negative, group: '', point: '.', numerals: LATIN_DIGITS }
  }
  const { minimumFractionDigits: least, maximumFractionDigits: most = 0 } = intl.resolvedOptions()
  if ((style !== 'grouped' && style !== 'currency') || least !== most) return null
  const parts = intl.formatToParts(1_234_567.5)
  return {
    decimals: most,
    positive: affixesOf(parts),
    negative: affixesOf(intl.formatToParts(-1_234_567.5)),
    group: parts.find(part => part.type === 'group')?.value ?? '',
    point: parts.find(part => part.type === 'decimal')?.value ?? '',
    numerals: LATIN_DIGITS.map(
      digit => intl.formatToParts(Number(digit)).find(part => part.type === 'integer')?.value ?? digit,
    ),
  }
}

function affixesOf(parts: readonly Intl.NumberFormatPart[]): Affixes {
  const isDigits = parts.map(part => INTEGER_PARTS.has(part.type))
  const joined = (some: readonly Intl.NumberFormatPart[]): string => some.map(part => part.value).join('')
  return {
    before: joined(parts.slice(0, isDigits.indexOf(true))),
    behind: joined(parts.slice(isDigits.lastIndexOf(true) + 1)),
  }
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
