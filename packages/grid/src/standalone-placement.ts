import { textWorker, type Placement } from '@vast-meadow/engine'
import { elementPlacement } from './element-placement.ts'

/** There is no file beside the stand-alone one: the worker's text is inside it. */
export const standalonePlacement = (given?: Placement): Placement => ({ worker: textWorker, ...given })
elementPlacement.usual = standalonePlacement()
