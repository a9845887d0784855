export { VastMeadow, type VastMeadowExposed, type VastMeadowProps } from './VastMeadow.ts'
export type * from '@vast-meadow/grid'
