import { errorOf } from '@vast-meadow/engine/client'
import type { Replayed, Scene } from '@vast-meadow/engine'
import { defineStore } from 'pinia'
import { useOpenGrid } from './open-grid'

/** How a scene does on the rows and the definition as they are now. */
export type SceneState =
  | { readonly is: 'asked' }
  | { readonly is: 'replayed'; readonly replayed: Replayed }
  | { readonly is: 'failed'; readonly reason: string }

/** Arrangements that are kept with what they show, and whether they still show it. */
export const useScenes = defineStore('scenes', () => {
  const grid = useOpenGrid()
  const scenes = computed<readonly Scene[]>(() => grid.saved?.scenes ?? [])
  const states = shallowRef<ReadonlyMap<string, SceneState>>(new Map())

  const tell = (name: string, state: SceneState): void => {
    states.value = new Map(states.value).set(name, state)
  }

  /** What is arranged now, under a name; one of the same name is replaced. */
  async function keep(name: string): Promise<void> {
    const { handle } = grid
    if (!handle) return
    const made = await handle.scene(name)
    const others = scenes.value.filter(scene => scene.name !== name)
    const at = scenes.value.findIndex(scene => scene.name === name)
    grid.keepScenes(at < 0 ? [...others, made] : others.toSpliced(at, 0, made))
    await replay(made)
  }

  async function replay(scene: Scene): Promise<void> {
    const { handle } = grid
    if (!handle) return
    tell(scene.name, { is: 'asked' })
    try {
      tell(scene.name, { is: 'replayed', replayed: await handle.replay(scene) })
    } catch (error) {
      tell(scene.name, { is: 'failed', reason: errorOf(error).message })
    }
  }

  /** One after another: each asks for all rows. */
  async function replayAll(): Promise<void> {
    for (const scene of scenes.value) await replay(scene)
  }

  /** What is shown now is how it shall be. */
  function take(scene: Scene): void {
    const state = states.value.get(scene.name)
    if (state?.is !== 'replayed') return
    const { shows, arrangement } = state.replayed
    const { page: _, ...kept } = arrangement
    const taken = { ...scene, arrangement: kept, shows }
    grid.keepScenes(scenes.value.map(other => (other === scene ? taken : other)))
    tell(scene.name, { is: 'replayed', replayed: { shows, arrangement, differences: [] } })
  }

  const show = (scene: Scene): void => grid.change(scene.arrangement)
  const remove = (scene: Scene): void => grid.keepScenes(scenes.value.filter(other => other !== scene))

  return { scenes, states, keep, replayAll, take, show, remove }
})
