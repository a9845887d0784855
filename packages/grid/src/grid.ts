import { features, type FeatureHandles } from './features/index.ts'
import type { Feature } from './kernel/feature.ts'
import type { KernelHandle } from './kernel/handle.ts'
import { Kernel } from './kernel/kernel.ts'
import { kernelHandle } from './kernel/kernel-handle.ts'
import type { MeadowOptions } from './kernel/options.ts'
import { reflectAria } from './kernel/simulated-dom.ts'

/** What `mountMeadow` returns: everything that the interface does, from code. */
export type MeadowHandle<Row extends object = object> = KernelHandle<Row> & FeatureHandles

/** A grid in a host element: the kernel, and the features of the list on it. */
export function createGrid(host: HTMLElement, options: MeadowOptions): MeadowHandle {
  reflectAria()
  let made: readonly Feature[] = []
  const kernel = new Kernel(host, options, on => (made = features.map(feature => feature(on))))
  const handles = [kernelHandle(kernel), ...made.flatMap(({ handle = [] }) => handle)]
  const properties = handles.map(handle => Object.getOwnPropertyDescriptors(handle))
  // What each feature adds is told by `FeatureHandles`; the checker cannot follow a list to it.
  return Object.defineProperties(
    {},
    Object.assign({}, ...properties) as PropertyDescriptorMap,
  ) as MeadowHandle
}
