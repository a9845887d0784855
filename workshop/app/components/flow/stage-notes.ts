import { shownColumns, type Definition, type StageName } from '@vast-meadow/engine'
import type { useOpenGrid } from '~/stores/open-grid'
import { formatBytes } from '~/utils/format'
import { words } from '~/words/english'

/** What each stage says of itself in a few words. */
export function stageNotes(grid: ReturnType<typeof useOpenGrid>): Record<StageName, string> {
  const { arrangement, description, saved, measures, problem } = grid
  if (!arrangement || !description) {
    return {
      source: problem ? 'not read' : 'loading',
      columns: '',
      search: '',
      conditions: '',
      order: '',
      groups: '',
      rows: '',
    }
  }
  const shown = shownColumns(arrangement)
  const count = shown.start.length + shown.middle.length + shown.end.length
  const active = Object.keys(arrangement.conditions).length + (arrangement.where.trim() ? 1 : 0)
  const order = arrangement.order.map(
    key => `${grid.titleOf(key.column)} ${key.direction === 'ascending' ? '↑' : '↓'}`,
  )
  const origin = saved?.origin
  const from =
    origin?.kind === 'file'
      ? origin.name
      : origin?.kind === 'service'
        ? `${origin.rows}, a service`
        : origin?.kind === 'listing'
          ? 'listed by a service'
          : origin?.kind === 'recipe' && origin.computed
            ? 'computed'
            : 'made up'
  return {
    source: description.bytes > 0 ? `${from}, ${formatBytes(description.bytes)}` : from,
    columns: `${count} of ${arrangement.columns.length} shown`,
    search: arrangement.search.trim() ? `“${arrangement.search.trim()}”` : 'everything',
    conditions: active === 0 ? 'none' : `${active} active`,
    order: order.length > 0 ? order.join(', ') : 'as they came',
    groups:
      arrangement.groups.length === 0
        ? 'none'
        : `by ${arrangement.groups.map(({ column }) => grid.titleOf(column)).join(', ')}`,
    rows: grid.report?.near
      ? words.flowRail.fetched
      : measures
        ? `${measures.lines} lines × ${measures.columns} columns`
        : '',
  }
}

/** What the look of a grid is in a few words. */
export function lookNote(definition: Definition | null): string {
  if (!definition) return ''
  const { density, rowHeight, styles } = definition
  const rows = rowHeight === 'content' ? 'by content' : rowHeight === undefined ? density : `${rowHeight} px`
  const rules = styles.length === 1 ? '1 style rule' : `${styles.length} style rules`
  return styles.length > 0 ? `${rows}, ${rules}` : rows
}
