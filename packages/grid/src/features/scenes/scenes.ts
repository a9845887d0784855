import type { Replayed, Scene, Staged } from '@vast-meadow/engine'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Of the grid's handle: what is arranged, kept with what it shows. */
export interface ScenesHandle {
  /** What is arranged now with what it shows: counts, the first lines, and what columns come to. Can be kept as JSON. */
  scene(name: string): Promise<Scene>
  /** Arranges these rows as a scene has it, beside what is on screen, and tells what is otherwise than it was. */
  replay(scene: Scene): Promise<Replayed>
}

/** Arrangements that are kept with what they show, and replayed on other rows or under another definition. */
export function scenes({ model }: Kernel): Feature {
  function staged(): Staged {
    const { source, description, definition } = model
    if (!source || !description || !definition) throw new RangeError('There are no rows yet.')
    return { source, description, definition, now: model.timeNow }
  }
  const handle: ScenesHandle = {
    async scene(name) {
      const { makeScene } = await import('@vast-meadow/engine/scenes')
      return await makeScene(name, staged(), model.arrangement)
    },
    async replay(scene) {
      const { replayScene } = await import('@vast-meadow/engine/scenes')
      return await replayScene(scene, staged())
    },
  }
  return { name: 'scenes', handle: [handle] }
}
