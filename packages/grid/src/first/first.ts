import type { followOptions } from '../follow-options.ts'
import type { MeadowHandle } from '../grid.ts'
import type { MeadowEvents } from '../kernel/events.ts'
import type { MeadowOptions } from '../kernel/options.ts'
import { FirstView } from './first-view.ts'

export { EVENT_NAMES } from '../kernel/events.ts'
export type { MeadowHandle, MeadowOptions }

/** By element: gives up the grid that is on its way into it. */
const coming = new WeakMap<HTMLElement, AbortController>()

/**
 * Puts a grid into an element as `mountMeadow` does, and shows the first of its rows at once: the grid itself, which is many
 * times as large as what draws these, is loaded behind. Where rows are a list and only columns are arranged, they look
 * as they will; else the frame alone stands there until the grid does. Resolves with the grid, which draws in the same
 * place as soon as it has its rows: `ready` tells when, or what keeps it from them. Rejects where the grid cannot be loaded
 * and where `signal` gives it up; once it is there, that unmounts it.
 */
export async function mountFirst<Row extends object = object>(
  host: HTMLElement,
  options: MeadowOptions<Row> = {},
  signal?: AbortSignal,
): Promise<MeadowHandle<Row>> {
  return (await openFirst(host, options, signal)).grid
}

/** A grid that is mounted, and how it takes over other options. */
export interface Opened<Row extends object = object> {
  readonly grid: MeadowHandle<Row>
  readonly follow: typeof followOptions
}

/** How a component of a framework comes to its grid. */
export interface Opening {
  readonly events: readonly (keyof MeadowEvents)[]
  open<Row extends object>(
    host: HTMLElement,
    options: MeadowOptions<Row>,
    signal: AbortSignal,
  ): Opened<Row> | Promise<Opened<Row>>
}

/** What `mountFirst` does, for components of frameworks. */
export async function openFirst<Row extends object>(
  host: HTMLElement,
  options: MeadowOptions<Row>,
  signal?: AbortSignal,
): Promise<Opened<Row>> {
  signal?.throwIfAborted()
  // One grid in one element, as for one that is mounted.
  coming.get(host)?.abort()
  const mine = new AbortController()
  coming.set(host, mine)
  signal?.addEventListener('abort', () => mine.abort(signal.reason), { once: true })
  const view = new FirstView(host, options)
  mine.signal.addEventListener('abort', view.remove)
  try {
    const { mountMeadow, followOptions } = await import('../index.ts')
    mine.signal.throwIfAborted()
    const grid = mountMeadow(host, options)
    mine.signal.addEventListener('abort', () => grid.unmount())
    view.handOver()
    // What goes wrong with rows is told in their place.
    grid.ready.then(view.remove, view.remove)
    return { grid, follow: followOptions }
  } catch (error) {
    view.remove()
    throw error
  }
}
