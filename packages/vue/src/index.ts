export { VastMeadow, type VastMeadowExposed, type VastMeadowProps } from './VastMeadow.ts'
export type { MeadowEvents, MeadowHandle, MeadowOptions, PaintedCell } from '@vast-meadow/grid'
