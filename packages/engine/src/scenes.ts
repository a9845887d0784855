// Arrangements kept with what they show: loaded when the first is made or replayed.
export { makeScene, replayScene, type Replayed } from './scene/replay.ts'
export { readScene, type Scene, type SceneLine, type SceneResult, type SceneShows } from './scene/scene.ts'
export { sceneDifferences, type SceneDifference } from './scene/scene-differences.ts'
export type { Staged } from './scene/shows.ts'
export { sceneDifferenceText } from './words/scene-difference-text.ts'
