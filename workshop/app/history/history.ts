/** States that can be gone back to. */
export const HISTORY_DEPTH = 200
/** Changes of the same name within this time are one: typing a word, dragging an edge. */
const MERGE_MS = 1000

interface HistoryEntry<State> {
  /** What was done to come to this state; empty for the first. */
  readonly name: string
  readonly state: State
}

/** A line of states, each by the name of what led to it; undo and redo walk along it. Immutable. */
export interface History<State> {
  readonly entries: readonly HistoryEntry<State>[]
  readonly at: number
  readonly changed: number
}

export const startHistory = <State>(state: State): History<State> => ({
  entries: [{ name: '', state }],
  at: 0,
  changed: 0,
})

/** Adds a state behind the present one; what was undone before is given up. */
export function remember<State>(
  history: History<State>,
  name: string,
  state: State,
  now: number,
): History<State> {
  const { entries, at, changed } = history
  const merges = at > 0 && at === entries.length - 1 && entries[at].name === name && now - changed < MERGE_MS
  const kept = entries.slice(0, merges ? at : at + 1)
  const grown = [...kept, { name, state }].slice(-HISTORY_DEPTH - 1)
  return { entries: grown, at: grown.length - 1, changed: now }
}

/** The name of what an undo would take back; null: nothing. */
export const undoName = <State>({ entries, at }: History<State>): string | null =>
  at > 0 ? entries[at].name : null

export const redoName = <State>({ entries, at }: History<State>): string | null =>
  entries[at + 1]?.name ?? null

/** Goes back (−1) or forward (1) by one state; stays where there is none. */
export function step<State>(history: History<State>, by: 1 | -1): History<State> {
  const at = history.at + by
  return at < 0 || at >= history.entries.length ? history : { ...history, at, changed: 0 }
}

export const presentState = <State>({ entries, at }: History<State>): State => entries[at].state
