import { DEFAULT_LOCALE } from './default-locale.ts'
import type { Format } from './format.ts'

/** How a column writes numbers: what stands between thousands, before decimals, and around. */
export interface NumberSigns {
  readonly group: string
  readonly decimal: string
  /** The currency's or the unit's signs. */
  readonly around: readonly string[]
  readonly percent: boolean
}

/** By all that they follow from: to find them takes as long as to read fifty numbers. */
const known = new Map<string, NumberSigns | null>()

/** The signs of a format; null where numbers are written plain, with a point and nothing else. */
export function numberSigns(format: Format): NumberSigns | null {
  const { number: style = 'plain', locale = DEFAULT_LOCALE, currency = 'EUR', unit = 'meter' } = format
  if (style === 'plain') return null
  const name = JSON.stringify([style, locale, currency, unit])
  let signs = known.get(name)
  if (signs === undefined) known.set(name, (signs = findSigns(style, locale, currency, unit)))
  return signs
}

function findSigns(
  style: NonNullable<Format['number']>,
  locale: string,
  currency: string,
  unit: string,
): NumberSigns | null {
  const more =
    style === 'currency'
      ? { style, currency }
      : style === 'unit'
        ? { style, unit, unitDisplay: 'short' as const }
        : {}
  try {
    const parts = new Intl.NumberFormat(locale, { ...more, minimumFractionDigits: 1 }).formatToParts(
      -12345678.5,
    )
    const said = (type: string): string[] =>
      parts.filter(part => part.type === type).map(({ value }) => value)
    const [group = ''] = said('group')
    const [decimal = '.'] = said('decimal')
    return { group, decimal, around: [...said('currency'), ...said('unit')], percent: style === 'percent' }
  } catch {
    return null
  }
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
/** Blanks between thousands are written in several ways. */
const between = (group: string): string => (/^\s$/.test(group) ? '[\\s\\u00a0\\u202f]' : escaped(group))

/** What begins a text and is one number with thousands or decimals as a column writes them; '' where none does. */
export function leadingNumber(text: string, { group, decimal }: NumberSigns): string {
  const thousands = group ? `\\d{1,3}(?:${between(group)}\\d{3})+(?!\\d)|` : ''
  return new RegExp(`^\\s*[-+]?(?:${thousands}\\d+)(?:${escaped(decimal)}\\d+)?`).exec(text)?.[0] ?? ''
}

const patterns = new WeakMap<NumberSigns, RegExp>()

/** What a number that is written so looks like: its sign, its whole part, its decimals. */
function writtenBy(signs: NumberSigns): RegExp {
  let pattern = patterns.get(signs)
  if (!pattern) {
    const thousands = signs.group ? `\\d{1,3}(?:${between(signs.group)}\\d{3})+|` : ''
    pattern = new RegExp(`^([-+\\u2212]?)(${thousands}\\d+)(?:${escaped(signs.decimal)}(\\d+))?$`)
    patterns.set(signs, pattern)
  }
  return pattern
}

/** A number as a column writes it, in plain digits with a point; a text that is none comes back as it is. */
export function plainDigits(text: string, signs: NumberSigns): string {
  let bare = text.trim()
  for (const sign of signs.around) bare = bare.replace(sign, '').trim()
  const percent = signs.percent && bare.endsWith('%')
  if (percent) bare = bare.slice(0, -1).trim()
  const match = writtenBy(signs).exec(bare)
  if (!match) return percent && Number.isFinite(Number(bare)) ? String(hundredth(Number(bare))) : text
  const [, sign, whole, decimals] = match
  const digits = `${sign === '\u2212' ? '-' : sign}${whole.replace(/\D/g, '')}${decimals ? `.${decimals}` : ''}`
  return percent ? String(hundredth(Number(digits))) : digits
}

const hundredth = (value: number): number => Number((value / 100).toPrecision(15))
