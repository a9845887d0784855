import type { Placement } from '@vast-meadow/engine'

/**
 * Where engines of elements run when their options do not say. Apart from the element: elements that stand in a page already
 * mount as soon as it is defined, and have to know by then.
 */
export const elementPlacement: { usual: Placement } = { usual: {} }
