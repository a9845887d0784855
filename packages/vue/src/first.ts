import { EVENT_NAMES, openFirst } from '@vast-meadow/grid/first'
import { gridComponent, type GridComponent } from './grid-component.ts'

/**
 * The grid as a Vue component that shows its first rows at once and loads the grid itself behind, as `mountFirst` does. Its
 * `handle` is null until that is there; all else is as in `@vast-meadow/vue`.
 */
export const VastMeadow: GridComponent = gridComponent({ events: EVENT_NAMES, open: openFirst })

export type { VastMeadowExposed, VastMeadowProps } from './grid-component.ts'
export type * from '@vast-meadow/grid'
