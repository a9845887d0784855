import { sentences, words } from '~/words'
import { arrangementFor, mergeArrangement } from '@vast-meadow/engine'
import type { Building } from './building'
import type { Remembering } from './remembering'
import type { Saving } from './saving'
import type { Mode, OpenGridState } from './state'

/** Build is the start, Use a reader whose own arrangement lies apart. */
export function modesOf(
  state: OpenGridState,
  { saveLater }: Saving,
  { note }: Remembering,
  { startSearch }: Building,
) {
  const { handle, arrangement, built, now, readers, start, mode, problem, titleOf } = state
  /** The start was taken from a reader and is not in the history yet. */
  let tookStart = false

  /** Use begins where readers do, or where this reader left it; Build is as it was. */
  function setMode(wanted: Mode): void {
    const mounted = handle.value
    const begun = start.value
    if (mode.value === wanted || !mounted || !begun || !built.value) return
    mode.value = wanted
    if (wanted === 'use') {
      const fields = now.value.description.fields
      const { arrangement: shown, leftOut } = mergeArrangement(begun, readers.value ?? {}, fields)
      mounted.arrange(shown, 'restore')
      if (leftOut.length > 0) problem.value = leftOut.map(one => sentences.leftOut(one, titleOf)).join(' ')
    } else mounted.arrange(built.value, 'restore')
    mounted.actAs(wanted === 'use' ? 'reader' : 'builder', arrangementFor(begun))
    arrangement.value = mounted.arrangement
    mounted.clearSelection()
    if (wanted === 'build' && tookStart) note(words.changeName.start)
    tookStart = false
  }

  /** What the reader arranged is given up. */
  function backToStart(): void {
    if (!start.value) return
    handle.value?.arrange(arrangementFor(start.value), 'restore')
    readers.value = null
    saveLater()
  }

  /** What the reader arranged, the search included, becomes what all readers start with. */
  async function takeAsStart(): Promise<void> {
    const taken = readers.value
    if (!taken) return
    built.value = { ...taken, page: 0 }
    tookStart = true
    readers.value = null
    if ((now.value.definition.start.search ?? '') !== taken.search) await startSearch(taken.search)
    saveLater()
  }

  /** Another grid is open from here on. */
  function forget(): void {
    tookStart = false
  }

  return { setMode, backToStart, takeAsStart, forget }
}
