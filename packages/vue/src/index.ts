export { VastMeadow } from './VastMeadow.ts'
export type { VastMeadowExposed, VastMeadowProps } from './grid-component.ts'
export type * from '@vast-meadow/grid'
