import { hasLayout } from './simulated-dom.ts'

/** As letters, digits and blanks follow one another in the cells of most tables. */
const SAMPLE = 'Lower Ings 2024-06-14, 38.25 seen by the river at noon'

/** CSS px that a character takes on average in an element's font; undefined where nothing can be measured. */
export function characterWidth(element: Element): number | undefined {
  if (!hasLayout(element.ownerDocument)) return undefined
  const { font } = getComputedStyle(element)
  const context = element.ownerDocument.createElement('canvas').getContext('2d')
  if (!context || font === '') return undefined
  context.font = font
  return context.measureText(SAMPLE).width / SAMPLE.length
}
