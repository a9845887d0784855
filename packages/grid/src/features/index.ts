import type { Feature } from '../kernel/feature.ts'
import type { Kernel } from '../kernel/kernel.ts'
import type { ArrangementsHandle } from './arrangements/arrangements-handle.ts'
import { actions } from './actions/actions.ts'
import { arrangements } from './arrangements/arrangements.ts'
import { cellMenu } from './cell-menu/cell-menu.ts'
import { cells } from './cells/cells.ts'
import { columns, type ColumnsHandle } from './columns/columns.ts'
import { conditions, type ConditionsHandle } from './conditions/conditions.ts'
import { copy, type CopyHandle } from './copy/copy.ts'
import { groups, type GroupsHandle } from './groups/groups.ts'
import { totals } from './groups/totals.ts'
import { history, type HistoryHandle } from './history/history.ts'
import { details } from './details/details.ts'
import type { DetailsHandle } from './details/details-handle.ts'
import { editing, type EditingHandle } from './editing/editing.ts'
import { exports, type ExportsHandle } from './exports/exports.ts'
import { goTo, type GoToHandle } from './travel/go-to.ts'
import { lengthMap } from './travel/length-map.ts'
import { line } from './line/line.ts'
import { live, type LiveHandle } from './live/live.ts'
import { order } from './order/order.ts'
import { pages } from './pages/pages.ts'
import { pinnedRows, type PinnedRowsHandle } from './pinned-rows/pinned-rows.ts'
import { printing, type PrintingHandle } from './printing/printing.ts'
import { scenes, type ScenesHandle } from './scenes/scenes.ts'
import { search, type SearchHandle } from './search/search.ts'
import type { SelectionHandle } from './selection/selection-handle.ts'
import { ranges, type RangesHandle } from './ranges/ranges.ts'
import { selection } from './selection/selection.ts'
import { thumbLabel } from './travel/thumb-label.ts'
import { why, type WhyHandle } from './why/why.ts'

/** What the grid can do, in the order in which clicks, keys and menus are offered and things are listed. */
export const features: readonly ((kernel: Kernel) => Feature)[] = [
  editing,
  cells,
  search,
  actions,
  groups,
  totals,
  conditions,
  order,
  history,
  arrangements,
  columns,
  details,
  ranges,
  selection,
  pinnedRows,
  pages,
  copy,
  exports,
  printing,
  live,
  line,
  goTo,
  cellMenu,
  thumbLabel,
  lengthMap,
  scenes,
  why,
]

/** What features add to the grid's handle. */
export type FeatureHandles = ArrangementsHandle &
  ColumnsHandle &
  ConditionsHandle &
  CopyHandle &
  DetailsHandle &
  EditingHandle &
  ExportsHandle &
  ScenesHandle &
  GoToHandle &
  GroupsHandle &
  HistoryHandle &
  LiveHandle &
  PinnedRowsHandle &
  PrintingHandle &
  RangesHandle &
  SearchHandle &
  SelectionHandle &
  WhyHandle
