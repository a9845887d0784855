import type { Arrangement } from './arrangement-schema.ts'
import type { ArrangementChange } from './arrangement-store.ts'
import { changeBack, differences, type Difference } from './differences.ts'

/** Acts that can be taken back. */
const HISTORY_DEPTH = 200
/** What is typed or dragged of the same thing within this time is one act. */
const ONE_ACT_MS = 1000
/** What is typed letter by letter, or dragged. */
const CONTINUED: readonly Difference['code'][] = ['width', 'search', 'condition', 'where']

interface Act {
  readonly from: Arrangement
  readonly to: Arrangement
  readonly at: number
}

/** Something else that was done, which the history only keeps in its place. */
interface OtherAct<Other> {
  readonly other: Other
}

/**
 * What a reader did, act by act, and what was taken back of it: one line, walked back and forth. `Other`: acts that are
 * not arranged; whoever gives them takes them back.
 */
export class ArrangementHistory<Other = never> {
  private done: (Act | OtherAct<Other>)[] = []
  private undone: (Act | OtherAct<Other>)[] = []

  /** Takes note of an act of another kind. */
  noteOther(other: Other): void {
    this.done = [...this.done, { other }].slice(-HISTORY_DEPTH)
    this.undone = []
  }

  /** Such an act, where it is the one that would be taken back, or done again; null: it is arranged, or there is none. */
  otherAt(way: 'undo' | 'redo'): Other | null {
    const act = (way === 'undo' ? this.done : this.undone).at(-1)
    return act && 'other' in act ? act.other : null
  }

  /** Goes past such an act. */
  passOther(way: 'undo' | 'redo'): void {
    const [from, to] = way === 'undo' ? [this.done, this.undone] : [this.undone, this.done]
    const act = from.pop()
    if (act) to.push(act)
  }

  /** Takes note of an act; what was taken back before is given up. `at`: when, in milliseconds. */
  note(from: Arrangement, to: Arrangement, at: number): void {
    if (differences(from, to).length === 0) return
    const last = this.done.at(-1)
    const goesOn = last && 'from' in last && at - last.at < ONE_ACT_MS && isContinued(last, { from, to })
    const act = { from: goesOn ? last.from : from, to, at }
    const before = goesOn ? this.done.slice(0, -1) : this.done
    // A word that is typed and deleted again was nothing.
    const nothing = differences(act.from, act.to).length === 0
    this.done = nothing ? before : [...before, act].slice(-HISTORY_DEPTH)
    this.undone = []
  }

  /** What would be taken back; null: there is nothing. */
  get undoable(): readonly Difference[] | null {
    return said(this.done.at(-1))
  }

  /** What would be done again; null: there is nothing. */
  get redoable(): readonly Difference[] | null {
    return said(this.undone.at(-1))
  }

  /** The change that takes the last act back; null: there is none. */
  undo(now: Arrangement): ArrangementChange | null {
    if (this.otherAt('undo') !== null) return null
    const act = this.done.pop()
    if (!act || 'other' in act) return null
    this.undone.push(act)
    return changeBack(act.from, act.to, now)
  }

  /** The change that does again what was taken back last; null: nothing was. */
  redo(now: Arrangement): ArrangementChange | null {
    if (this.otherAt('redo') !== null) return null
    const act = this.undone.pop()
    if (!act || 'other' in act) return null
    this.done.push(act)
    return changeBack(act.to, act.from, now)
  }

  clear(): void {
    this.done = []
    this.undone = []
  }
}

const said = (act: Act | OtherAct<unknown> | undefined): readonly Difference[] | null =>
  act && 'from' in act ? differences(act.from, act.to) : null

/** Whether two acts are about the same one thing, of the kind that is done little by little. */
function isContinued(last: Pick<Act, 'from' | 'to'>, next: Pick<Act, 'from' | 'to'>): boolean {
  const [a, b] = [differences(last.from, last.to), differences(next.from, next.to)]
  if (a.length !== 1 || b.length !== 1 || !CONTINUED.includes(a[0].code)) return false
  return subjectOf(a[0]) === subjectOf(b[0])
}

function subjectOf(difference: Difference): string {
  const { code } = difference
  const columns =
    'columns' in difference ? difference.columns : 'column' in difference ? [difference.column] : []
  return [code, ...columns].join('\0')
}
