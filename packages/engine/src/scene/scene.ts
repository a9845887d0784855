import * as z from 'zod/mini'
import '../zod.ts'
import { readArrangement } from '../definition/read-arrangement.ts'
import type { Arrangement } from '../definition/arrangement-schema.ts'

export const SCENE_FORMAT = 'vast-meadow-scene'
export const SCENE_VERSION = 1

const count = z.int().check(z.minimum(0))
/** A line as it is shown: the texts of a row by column, or the head or foot of a group. */
const lineSchema = z.union([
  z.strictObject({ row: z.record(z.string(), z.string()) }),
  z.strictObject({ group: z.string(), level: count, rows: count, end: z.optional(z.literal(true)) }),
])
const showsSchema = z.strictObject({
  rows: count,
  passing: count,
  /** Groups by level. */
  groups: z.array(count),
  /** The columns that are shown, in their order. */
  columns: z.array(z.string()),
  lines: z.array(lineSchema),
  /** By column: what it comes to in all rows that pass. */
  summaries: z.record(z.string(), z.string()),
})
const sceneSchema = z.strictObject({
  format: z.literal(SCENE_FORMAT),
  version: z.literal(SCENE_VERSION),
  name: z.string(),
  /** Milliseconds since 1970 by which “today” and “last week” are reckoned. */
  now: z.number(),
  /** What is arranged, but for the page that is looked at. */
  arrangement: z.record(z.string(), z.unknown()),
  shows: showsSchema,
})

export type SceneLine = z.infer<typeof lineSchema>
/** What a reader sees of an arrangement: counts, the first lines, and what columns come to; all as it is written. */
export type SceneShows = z.infer<typeof showsSchema>
/** An arrangement with what it shows, as JSON keeps it. */
export interface Scene extends Omit<z.infer<typeof sceneSchema>, 'arrangement'> {
  readonly arrangement: Partial<Arrangement>
}

export type SceneResult =
  { readonly ok: true; readonly scene: Scene } | { readonly ok: false; readonly problem: string }

/** Reads a scene that was kept; columns that it names may be gone, which replaying it tells. */
export function readScene(json: unknown): SceneResult {
  const read = sceneSchema.safeParse(json)
  if (!read.success) {
    const [{ path, message }] = read.error.issues
    return { ok: false, problem: `${path.join('.') || 'scene'}: ${message}` }
  }
  const arrangement = readArrangement(read.data.arrangement, null)
  if (!arrangement.ok) {
    const [{ path, message }] = arrangement.problems
    return { ok: false, problem: `arrangement.${path}: ${message}` }
  }
  return { ok: true, scene: { ...read.data, arrangement: arrangement.arrangement } }
}
