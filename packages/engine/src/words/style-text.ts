import type { TextStyle } from '../read/types/text-style.ts'

/** How texts of a column say its values, in a few words. */
export function styleText({ type, decimal, thousands, dateOrder, separator }: TextStyle): string {
  const parts: string[] = [type]
  if (decimal === ',') parts.push('decimal comma')
  if (thousands) parts.push(`thousands parted by ${thousands === ' ' ? 'a space' : thousands}`)
  if (dateOrder && dateOrder !== 'ymd') parts.push(dateOrder === 'dmy' ? 'day first' : 'month first')
  if (separator) parts.push(`parted by ${separator}`)
  return parts.join(', ')
}
