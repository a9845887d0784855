import { PALETTE, TONES } from '@vast-meadow/engine/client'
import type { Definition, Look, StyleRule } from '@vast-meadow/engine'

/** Class of a row in which a style rule holds, and of a cell in a column that the rule is about. */
export const rowClass = (rule: number): string => `when-${rule}`
export const cellClass = (rule: number): string => `styled-${rule}`

/**
 * The rules of a grid's own style sheet: its palette and its styles by expression. Everything in it was checked by the
 * definition's schema: tones are of a list, colours hexadecimal, sizes numbers.
 */
export function definitionRules({ look, styles }: Definition): string {
  const properties = lookProperties(look).map(([name, value]) => `${name}: ${value};`)
  return [`:host { ${properties.join(' ')} }`, ...styles.map(styleRule)].join('\n')
}

/** The custom properties of a look, by name: its palette and the size of its type. */
export const lookProperties = ({ palette, textSize }: Look): (readonly [string, string])[] => [
  ...TONES.map(tone => {
    const { light, dark } = palette[tone] ?? PALETTE[tone]
    return [`--_${tone}`, `var(--meadow-${tone}, light-dark(${light}, ${dark}))`] as const
  }),
  ['--_font-size', `var(--meadow-font-size, ${textSize}px)`],
]

function styleRule({ columns, tone, shaded, bold, italic, struck }: StyleRule, nth: number): string {
  const place = columns.length > 0 ? `.row.${rowClass(nth)} .cell.${cellClass(nth)}` : `.row.${rowClass(nth)}`
  const colour = `var(--_${tone ?? 'stone'})`
  const text = [
    tone && !shaded ? `color: ${colour};` : '',
    bold ? 'font-weight: 600;' : '',
    italic ? 'font-style: italic;' : '',
    struck ? 'text-decoration: line-through;' : '',
  ].join(' ')
  if (!shaded) return `${place} { ${text} }`
  const ground = `color-mix(in srgb, ${colour} 16%, var(--_paper))`
  // A row's parts take its ground over, so that what is scrolled under them stays unseen.
  return columns.length > 0
    ? `${place} { ${text} background: ${ground}; }`
    : `${place}:not(.selected) { ${text} --_row: ${ground}; }`
}
