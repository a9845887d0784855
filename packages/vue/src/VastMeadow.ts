import { EVENT_NAMES, followOptions, mountMeadow } from '@vast-meadow/grid'
import { gridComponent, type GridComponent } from './grid-component.ts'

/**
 * The grid as a Vue component. A slot named `cell:` and a column's key draws that column's cells and is given the
 * `PaintedCell`; all other cells are drawn by the grid alone. One named `detail:` and the painter's name in the
 * definition's `detail` draws what open rows show, and is given the `PaintedDetail`.
 */
export const VastMeadow: GridComponent = gridComponent({
  events: EVENT_NAMES,
  open: (host, options) => ({ grid: mountMeadow(host, options), follow: followOptions }),
})
