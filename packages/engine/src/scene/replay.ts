import type { Arrangement } from '../definition/arrangement-schema.ts'
import { mergeArrangement } from '../definition/merge-arrangement.ts'
import { SCENE_FORMAT, SCENE_VERSION, type Scene, type SceneShows } from './scene.ts'
import { sceneDifferences, type SceneDifference } from './scene-differences.ts'
import { showsOf, type Staged } from './shows.ts'

/** An arrangement with what it shows on these rows, to be kept and replayed. */
export async function makeScene(name: string, staged: Staged, arrangement: Arrangement): Promise<Scene> {
  const now = staged.now ?? Date.now()
  // All of it, so that it is the same when the definition starts otherwise; where a reader is is no part of it.
  const { page: _, ...kept } = arrangement
  return {
    format: SCENE_FORMAT,
    version: SCENE_VERSION,
    name,
    now,
    arrangement: kept,
    shows: await showsOf({ ...staged, now }, arrangement),
  }
}

export interface Replayed {
  readonly differences: readonly SceneDifference[]
  /** What it shows now. */
  readonly shows: SceneShows
  readonly arrangement: Arrangement
}

/**
 * Arranges rows as a scene has it, by its own clock, and tells what is shown otherwise. Rows and definition may have
 * changed since: what of its arrangement does not hold any more is among the differences.
 */
export async function replayScene(scene: Scene, staged: Staged): Promise<Replayed> {
  const { fields } = staged.description
  const { arrangement, leftOut } = mergeArrangement(staged.definition, scene.arrangement, fields)
  const shows = await showsOf({ ...staged, now: scene.now }, arrangement)
  const lost = leftOut.map((one): SceneDifference => ({ code: 'left-out', leftOut: one }))
  return { differences: [...lost, ...sceneDifferences(scene.shows, shows)], shows, arrangement }
}
