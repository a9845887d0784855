import { EVENT_NAMES, openFirst } from '@vast-meadow/grid/first'
import { gridComponent } from './grid-component.tsx'

/**
 * The grid as a React component that shows its first rows at once and loads the grid itself behind, as `mountFirst` does. Its
 * `ref` is null until that is there; all else is as in `@vast-meadow/react`.
 */
export const VastMeadow = gridComponent({ events: EVENT_NAMES, open: openFirst })

export type { VastMeadowProps } from './grid-component.tsx'
export { useArrangement } from './use-arrangement.ts'
export { useSelectedCount } from './use-selected-count.ts'
export type * from '@vast-meadow/grid'
