import type { SceneDifference } from '../../scene/scene-differences.ts'
import { shortLine } from '../scene-difference-text.ts'
import { leftOut } from './arrangement.ts'
import { countIn } from './counts.ts'

const rows = (count: number): string => countIn(count, { one: '1 Zeile', other: '# Zeilen' })
const groups = (count: number): string => countIn(count, { one: '1 Gruppe', other: '# Gruppen' })

export function scene(difference: SceneDifference, titleOf: (column: string) => string): string {
  const titles = (columns: readonly string[]): string => columns.map(titleOf).join(', ')
  switch (difference.code) {
    case 'left-out':
      return leftOut(difference.leftOut, titleOf)
    case 'rows':
      return `Es sind ${rows(difference.now)}; es waren ${difference.before}.`
    case 'passing':
      return `Durch kommen ${rows(difference.now)}; vorher ${difference.before}.`
    case 'groups':
      return `Ebene ${difference.level + 1} hat ${groups(difference.now)}; vorher ${difference.before}.`
    case 'columns': {
      const { gone, come } = difference
      return [
        ...(gone.length > 0 ? [`Nicht mehr sichtbar: ${titles(gone)}.`] : []),
        ...(come.length > 0 ? [`Jetzt sichtbar: ${titles(come)}.`] : []),
      ].join(' ')
    }
    case 'columns-order':
      return 'Spalten stehen in anderer Reihenfolge.'
    case 'order':
      return 'Die ersten Zeilen stehen in anderer Reihenfolge.'
    case 'line': {
      const { line, before, now } = difference
      if (!now) return `Zeile ${line} ist fort: ${before ? shortLine(before, rows) : ''}.`
      if (!before) return `Zeile ${line} ist neu: ${shortLine(now, rows)}.`
      return `Zeile ${line} ist ${shortLine(now, rows)}; vorher ${shortLine(before, rows)}.`
    }
    case 'cell': {
      const { line, column, before, now } = difference
      return `Zeile ${line}: ${titleOf(column)} ist „${now}“; vorher „${before}“.`
    }
    case 'summary': {
      const { column, before, now } = difference
      if (now === null) return `${titleOf(column)} wird nicht mehr zusammengefasst; vorher ${before}.`
      if (before === null) return `${titleOf(column)} ergibt ${now}, und wurde nicht zusammengefasst.`
      return `${titleOf(column)} ergibt ${now}; vorher ${before}.`
    }
  }
}
