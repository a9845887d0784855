export { VastMeadow } from './VastMeadow.ts'
export type { MeadowEvents, MeadowHandle, MeadowOptions, PaintedCell } from '@vast-meadow/grid'
