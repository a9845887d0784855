import { createGrid, type MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'

/**
 * Puts a grid into an element, which should have a height. Returns at once; `handle.ready` tells when rows are on
 * screen. `handle.unmount()` gives back everything: elements, listeners, workers and memory.
 */
export function mountMeadow(host: HTMLElement, options: MeadowOptions = {}): MeadowHandle {
  return createGrid(host, options)
}
