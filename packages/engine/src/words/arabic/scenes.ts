import type { SceneDifference } from '../../scene/scene-differences.ts'
import { shortLine } from '../scene-difference-text.ts'
import { leftOut } from './arrangement.ts'
import { countIn, ROWS } from './counts.ts'

const rows = (count: number): string => countIn(count, ROWS)

export function scene(difference: SceneDifference, titleOf: (column: string) => string): string {
  const titles = (columns: readonly string[]): string => columns.map(titleOf).join('، ')
  switch (difference.code) {
    case 'left-out':
      return leftOut(difference.leftOut, titleOf)
    case 'rows':
      return `الصفوف ${difference.now}؛ وكانت ${difference.before}.`
    case 'passing':
      return `يجتاز ${difference.now}؛ وكان يجتاز ${difference.before}.`
    case 'groups':
      return `مجموعات المستوى ${difference.level + 1}: ‏${difference.now}؛ وكانت ${difference.before}.`
    case 'columns': {
      const { gone, come } = difference
      return [
        ...(gone.length > 0 ? [`لم يعد ظاهرًا: ${titles(gone)}.`] : []),
        ...(come.length > 0 ? [`ظاهر الآن: ${titles(come)}.`] : []),
      ].join(' ')
    }
    case 'columns-order':
      return 'تقف الأعمدة في ترتيب آخر.'
    case 'order':
      return 'تقف الأسطر الأولى في ترتيب آخر.'
    case 'line': {
      const { line, before, now } = difference
      if (!now) return `زال السطر ${line}: ${before ? shortLine(before, rows) : ''}.`
      if (!before) return `سطر جديد ${line}: ${shortLine(now, rows)}.`
      return `السطر ${line}: ${shortLine(now, rows)}؛ وكان ${shortLine(before, rows)}.`
    }
    case 'cell': {
      const { line, column, before, now } = difference
      return `السطر ${line}: ${titleOf(column)} «${now}»؛ وكان «${before}».`
    }
    case 'summary': {
      const { column, before, now } = difference
      if (now === null) return `لم يعد ${titleOf(column)} يُلخّص؛ وكان ${before}.`
      if (before === null) return `يبلغ ${titleOf(column)} ‏${now}، ولم يكن يُلخّص.`
      return `يبلغ ${titleOf(column)} ‏${now}؛ وكان ${before}.`
    }
  }
}
