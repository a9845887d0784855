import { shownColumns, type Definition, type StageName } from '@vast-meadow/engine'
import type { useOpenGrid } from '~/stores/open-grid'
import { formatBytes } from '~/utils/format'
import { words } from '~/words'

const say = words.stageNotes

/** What each stage says of itself in a few words. */
export function stageNotes(grid: ReturnType<typeof useOpenGrid>): Record<StageName, string> {
  const { arrangement, description, saved, measures, problem } = grid
  if (!arrangement || !description) {
    return {
      source: problem ? say.notRead : say.loading,
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
        ? say.aService(origin.rows)
        : origin?.kind === 'listing'
          ? say.listed
          : origin?.kind === 'recipe' && origin.computed
            ? say.computed
            : say.madeUp
  return {
    source: description.bytes > 0 ? `${from}, ${formatBytes(description.bytes)}` : from,
    columns: say.shown(count, arrangement.columns.length),
    search: arrangement.search.trim() ? `“${arrangement.search.trim()}”` : say.everything,
    conditions: active === 0 ? say.none : say.active(active),
    order: order.length > 0 ? order.join(', ') : say.asTheyCame,
    groups:
      arrangement.groups.length === 0
        ? say.none
        : say.by(arrangement.groups.map(({ column }) => grid.titleOf(column)).join(', ')),
    rows: grid.report?.near
      ? words.flowRail.fetched
      : measures
        ? say.drawn(measures.lines, measures.columns)
        : '',
  }
}

/** What the look of a grid is in a few words. */
export function lookNote(definition: Definition | null): string {
  if (!definition) return ''
  const { density, rowHeight, styles } = definition
  const rows =
    rowHeight === 'content'
      ? say.byContent
      : rowHeight === undefined
        ? words.lookPanel[density]
        : `${rowHeight} px`
  const rules = say.styleRules(styles.length)
  return styles.length > 0 ? `${rows}, ${rules}` : rows
}
