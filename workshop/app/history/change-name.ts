import { words } from '~/words'
import type { Arrangement } from '@vast-meadow/engine'
import { keysIn } from '@vast-meadow/engine/client'

const NAMES: Readonly<Record<keyof Arrangement, string>> = {
  columns: words.changeName.columnOrder,
  widths: words.changeName.columnWidth,
  hidden: words.changeName.shownColumns,
  pinnedStart: words.changeName.heldColumns,
  pinnedEnd: words.changeName.heldColumns,
  pinnedRows: words.changeName.pinnedRows,
  compared: words.changeName.comparedColumns,
  order: words.changeName.order,
  conditions: words.changeName.condition,
  where: words.changeName.expression,
  search: words.changeName.search,
  groups: words.changeName.grouping,
  summaries: words.changeName.summaries,
  page: words.changeName.page,
  pageSize: words.changeName.pageSize,
  open: words.changeName.openGroups,
}

/** What differs between two arrangements, in a word or two; null: nothing. */
export function changeName(before: Arrangement, after: Arrangement): string | null {
  const changed = keysIn(NAMES).filter(
    key => before[key] !== after[key] && JSON.stringify(before[key]) !== JSON.stringify(after[key]),
  )
  if (changed.length === 0) return null
  return changed.length === 1 ? NAMES[changed[0]] : words.changeName.arrangement
}
