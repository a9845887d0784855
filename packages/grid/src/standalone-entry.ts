/** What `standalone.js` holds: the grid, the element, and the engine with its worker and all that it loads later. */
// First of all: the element mounts as soon as it is defined.
import { standalonePlacement } from './standalone-placement.ts'
// Without a bundler nothing else can be imported: the languages are in the file.
import './languages/add-arabic.ts'
import './languages/add-german.ts'
import { VastMeadowElement } from './element.ts'
import { mountMeadow as mount } from './mount.ts'
import type { MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'

export * from '@vast-meadow/engine'
export { VastMeadowElement }
export { indexedArrangements } from './storage/indexed-arrangements.ts'
export { localArrangements } from './storage/local-arrangements.ts'
export { localChanges } from './storage/local-changes.ts'

/** As `mountMeadow`, with the worker that this file carries. */
export function mountMeadow<Row extends object = object>(
  host: HTMLElement,
  options: MeadowOptions<Row> = {},
): MeadowHandle<Row> {
  return mount(host, { ...options, placement: standalonePlacement(options.placement) })
}
