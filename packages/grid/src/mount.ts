import { createGrid, type MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'

/**
 * Puts a grid into an element, which should have a height; one that was there is unmounted. Returns at once; `handle.ready` tells when rows are on
 * screen. `handle.unmount()` gives back everything: elements, listeners, workers and memory.
 */
export function mountMeadow<Row extends object = object>(
  host: HTMLElement,
  options: MeadowOptions<Row> = {},
): MeadowHandle<Row> {
  // One grid in one element: a framework that mounts twice means the second.
  mounted.get(host)?.unmount()
  const handle = createGrid(host, options)
  mounted.set(host, handle)
  return handle
}

const mounted = new WeakMap<HTMLElement, MeadowHandle>()
