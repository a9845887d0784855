import type { SceneLine } from '../scene/scene.ts'
import type { SceneDifference } from '../scene/scene-differences.ts'
import { leftOutText } from './left-out-text.ts'

/** Texts of a line that are said; the others are left out. */
const MOST_SAID = 4

/** What a line is, in a few words: the group with its rows, or its first texts. */
export const shortLine = (line: SceneLine, rows: (count: number) => string): string =>
  'row' in line
    ? Object.values(line.row).filter(Boolean).slice(0, MOST_SAID).join(', ')
    : `${line.group} (${rows(line.rows)})`

const rows = (count: number): string => (count === 1 ? '1 row' : `${count} rows`)
const groups = (count: number): string => (count === 1 ? '1 group' : `${count} groups`)

/** One difference from a scene, in a sentence. `titleOf`: what readers call a column. */
export function sceneDifferenceText(
  difference: SceneDifference,
  titleOf: (column: string) => string,
): string {
  const titles = (columns: readonly string[]): string => columns.map(titleOf).join(', ')
  switch (difference.code) {
    case 'left-out':
      return leftOutText(difference.leftOut, titleOf)
    case 'rows':
      return `There are ${rows(difference.now)}; there were ${difference.before}.`
    case 'passing':
      return `${rows(difference.now)} pass; ${difference.before} did.`
    case 'groups':
      return `Level ${difference.level + 1} has ${groups(difference.now)}; it had ${difference.before}.`
    case 'columns': {
      const { gone, come } = difference
      return [
        ...(gone.length > 0 ? [`Not shown any more: ${titles(gone)}.`] : []),
        ...(come.length > 0 ? [`Shown now: ${titles(come)}.`] : []),
      ].join(' ')
    }
    case 'columns-order':
      return 'Columns stand in another order.'
    case 'order':
      return 'The first lines stand in another order.'
    case 'line': {
      const { line, before, now } = difference
      if (!now) return `Line ${line} is gone: ${before ? shortLine(before, rows) : ''}.`
      if (!before) return `Line ${line} is new: ${shortLine(now, rows)}.`
      return `Line ${line} is ${shortLine(now, rows)}; it was ${shortLine(before, rows)}.`
    }
    case 'cell': {
      const { line, column, before, now } = difference
      return `Line ${line}: ${titleOf(column)} is “${now}”; it was “${before}”.`
    }
    case 'summary': {
      const { column, before, now } = difference
      if (now === null) return `Nothing is summed up of ${titleOf(column)} any more; it was ${before}.`
      if (before === null) return `${titleOf(column)} comes to ${now}, and was not summed up.`
      return `${titleOf(column)} comes to ${now}; it came to ${before}.`
    }
  }
}
