import { presentState, redoName, remember, startHistory, step, undoName } from '~/history/history'
import type { Bound, OpenGridState } from './state'

/** The history of what the builder did, and the order in which acts take effect. */
export function rememberingOf({ history, mode, now, optionsNow }: OpenGridState) {
  /** A state of the history is being put back; what the grid tells meanwhile is no change of its own. */
  let restoring = 0
  let acting: Promise<void> = Promise.resolve()

  const bound = (): Bound => ({
    definition: now.value.definition,
    arrangement: now.value.arrangement,
    options: optionsNow(),
  })
  const undoable = computed(() => history.value && undoName(history.value))
  const redoable = computed(() => history.value && redoName(history.value))

  /** Definitions take a moment to take effect; what comes meanwhile waits, so that the last asked for is what stays. */
  function inTurn(act: () => Promise<void>): Promise<void> {
    const done = acting.then(act)
    acting = done.catch(() => {})
    return done
  }

  /** What the grid tells while this goes on is no change of its own. */
  async function quietly<T>(act: () => Promise<T>): Promise<T> {
    restoring++
    try {
      return await act()
    } finally {
      restoring--
    }
  }

  function note(name: string): void {
    if (!history.value || restoring > 0 || mode.value === 'use') return
    history.value = remember(history.value, name, bound(), Date.now())
  }

  /** The history begins anew: rows themselves are not kept in it. */
  function begin(): void {
    history.value = startHistory(bound())
  }

  /** Goes one state back or on; null where there is none. */
  function stepBy(by: 1 | -1): Bound | null {
    if (!history.value || mode.value === 'use') return null
    const next = step(history.value, by)
    if (next === history.value) return null
    history.value = next
    return presentState(next)
  }

  return { undoable, redoable, inTurn, quietly, note, begin, stepBy }
}

export type Remembering = ReturnType<typeof rememberingOf>
