/** What `standalone.js` holds: the grid, the element, and the engine's worker as text. */
import { type EnginePort, type Placement } from '@vast-meadow/engine'
import { VastMeadowElement } from './element.ts'
import { mountMeadow as mount } from './mount.ts'
import type { MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'

export * from '@vast-meadow/engine'
export { VastMeadowElement }

/** The worker's script; the build puts it here. */
const WORKER_TEXT = (globalThis as { __MEADOW_WORKER__?: string }).__MEADOW_WORKER__ ?? ''

/** The worker has no address of its own, and looks beside this file for what it loads. */
const BASE = `globalThis.__MEADOW_BASE__=${JSON.stringify(import.meta.url)};`

/** A worker from the text inside this file. */
export function inlineWorker(): EnginePort {
  const url = URL.createObjectURL(new Blob([BASE, WORKER_TEXT], { type: 'text/javascript' }))
  const worker = new Worker(url, { type: 'module' })
  // The script is fetched when the worker starts; it can be let go once it answers.
  worker.addEventListener('message', () => URL.revokeObjectURL(url), { once: true })
  return worker
}

const placement = (given?: Placement): Placement => ({ worker: inlineWorker, ...given })
VastMeadowElement.placement = placement()

/** As `mountMeadow`, with the worker that this file carries. */
export function mountMeadow(host: HTMLElement, options: MeadowOptions = {}): MeadowHandle {
  return mount(host, { ...options, placement: placement(options.placement) })
}
