import type { DifferenceFacts } from '../definition/differences.ts'
import type { Condition } from '../condition/condition.ts'
import type { Level } from '../group/level.ts'
import type { Summary } from '../summary/summary.ts'

/** How what an arrangement names is called. */
export interface ArrangementSpeaker {
  readonly titleOf: (column: string) => string
  /** A condition in a few words. */
  readonly condition: (column: string, condition: Condition) => string
  /** A level of groups, with its bucket. */
  readonly level: (level: Level) => string
  readonly summary: (summary: Summary) => string
}

/** Columns named one by one up to here; beyond, they are counted. */
const NAMED = 4

/** One difference between two arrangements in a sentence without its full stop. */
export function differenceText(difference: DifferenceFacts, speaker: ArrangementSpeaker): string {
  const named = (columns: readonly string[]): string =>
    columns.length > NAMED ? `${columns.length} columns` : columns.map(speaker.titleOf).join(', ')
  const verb = (columns: readonly string[]): string => (columns.length === 1 ? 'is' : 'are')
  switch (difference.code) {
    case 'moved':
      return `${named(difference.columns)} ${difference.columns.length === 1 ? 'stands' : 'stand'} elsewhere`
    case 'hidden':
      return `${named(difference.columns)} ${verb(difference.columns)} hidden`
    case 'shown':
      return `${named(difference.columns)} ${verb(difference.columns)} shown`
    case 'pinned': {
      const { columns, part } = difference
      const where = part === 'middle' ? 'not pinned' : `pinned at the ${part}`
      return `${named(columns)} ${verb(columns)} ${where}`
    }
    case 'width': {
      const { columns, width } = difference
      const how = width === null ? 'as wide as at first' : `${width} px wide`
      return columns.length === 1 ? `${named(columns)} is ${how}` : `${named(columns)} have other widths`
    }
    case 'order': {
      const keys = difference.order.map(({ column, direction }) => `${speaker.titleOf(column)} ${direction}`)
      return keys.length === 0 ? 'Not ordered' : `Ordered by ${keys.join(', then ')}`
    }
    case 'condition': {
      const { column, condition } = difference
      const title = speaker.titleOf(column)
      if (!condition) return `No condition on ${title}`
      return `Only rows with ${title} ${speaker.condition(column, condition)}`
    }
    case 'where':
      return difference.where.trim()
        ? `Only rows for which ${difference.where} holds`
        : 'No expression that rows must meet'
    case 'search':
      return difference.search.trim() ? `Searched for “${difference.search}”` : 'Not searched'
    case 'groups': {
      const levels = difference.groups.map(speaker.level)
      return levels.length === 0 ? 'Not grouped' : `Grouped by ${levels.join(', then ')}`
    }
    case 'open':
      return 'Other groups are open'
    case 'summary': {
      const { column, summary } = difference
      const title = speaker.titleOf(column)
      return summary === null
        ? `Nothing is summed up of ${title}`
        : `Summed up: ${speaker.summary(summary)} of ${title}`
    }
    case 'pinned-rows':
      if (difference.count === 0) return 'No rows are pinned'
      return difference.count === 1 ? '1 row is pinned' : `${difference.count} rows are pinned`
    case 'compared':
      return difference.columns.length === 0
        ? 'No columns are compared'
        : `${difference.columns.map(speaker.titleOf).join(' and ')} are compared`
    case 'page-size':
      return difference.pageSize === null
        ? 'As many lines on a page as at first'
        : `${difference.pageSize} lines on a page`
  }
}
