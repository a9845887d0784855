export { VastMeadow, type VastMeadowProps } from './VastMeadow.tsx'
export { useArrangement } from './use-arrangement.ts'
export { useSelectedCount } from './use-selected-count.ts'
export type * from '@vast-meadow/grid'
