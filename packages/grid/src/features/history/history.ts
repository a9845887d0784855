import { ArrangementHistory } from '@vast-meadow/engine/client'
import type { ArrangementChange, Difference } from '@vast-meadow/engine'
import { speakerOf } from '../../kernel/arrangement-speaker.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature, ReaderAct } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Of the grid's handle: what a reader did, taken back and done again. */
export interface HistoryHandle {
  /** What `undo` would take back, in words; null: nothing. */
  readonly undoable: string | null
  /** What `redo` would do again, in words; null: nothing. */
  readonly redoable: string | null
  /** Takes back what a reader did last; false where there is nothing. */
  undo(): boolean
  /** Does again what was taken back last; false where there is nothing. */
  redo(): boolean
}

/** One history of what a reader does: by key, by buttons where the definition wants them, and from code. */
export function history(kernel: Kernel): Feature {
  const { model, texts, bar, announcer, navigator, options, disposal } = kernel
  const acts = new ArrangementHistory<ReaderAct>()
  const speaker = speakerOf(model, texts, options.parts)
  const buttons = make('span', 'history')
  buttons.hidden = true
  bar.addAtEnd(buttons)
  const button = (text: string, act: () => void): HTMLButtonElement => {
    const made = make('button', 'button', buttons)
    made.type = 'button'
    made.textContent = text
    disposal.listen(made, 'click', act)
    return made
  }
  const undoButton = button(texts.undo, () => walk('undo'))
  const redoButton = button(texts.redo, () => walk('redo'))
  let walking = false

  const inWords = (acted: readonly Difference[] | null): string | null =>
    acted && acted.map(one => texts.difference(one, speaker)).join(', ')
  const said = (way: 'undo' | 'redo'): string | null =>
    acts.otherAt(way)?.said ?? inWords(way === 'undo' ? acts.undoable : acts.redoable)

  function walk(way: 'undo' | 'redo'): boolean {
    for (;;) {
      const what = said(way)
      const other = acts.otherAt(way)
      if (other && what !== null) {
        acts.passOther(way)
        void walkOther(other, way, what).catch(kernel.failed)
        return true
      }
      const change = acts[way](model.arrangement)
      if (what === null || !change) return false
      if (!take(change)) continue
      announcer.say(way === 'undo' ? texts.undone(what) : texts.redone(what))
      return true
    }
  }

  /** Where nothing is left of an act, the one before it is gone to. */
  async function walkOther(act: ReaderAct, way: 'undo' | 'redo', what: string): Promise<void> {
    const done = await act[way]()
    show()
    if (done) announcer.say(way === 'undo' ? texts.undone(what) : texts.redone(what))
    else walk(way)
  }

  /** Nothing is taken where code has undone it meanwhile. */
  function take(change: ArrangementChange): boolean {
    const hadFocus = navigator.hasFocus
    walking = true
    try {
      return model.apply(change, 'reader') !== null
    } finally {
      walking = false
      show()
      // The cell that had the focus may stand elsewhere, or be gone.
      if (hadFocus) requestAnimationFrame(() => navigator.restore(true))
    }
  }

  function show(): void {
    for (const [button, word, what] of [
      [undoButton, texts.undo, said('undo')],
      [redoButton, texts.redo, said('redo')],
    ] as const) {
      button.disabled = what === null
      button.title = what ?? texts.nothingDone
      button.ariaLabel = what === null ? word : texts.undoOf(word, what)
    }
  }

  const handle: HistoryHandle = {
    get undoable() {
      return said('undo')
    },
    get redoable() {
      return said('redo')
    },
    undo: () => walk('undo'),
    redo: () => walk('redo'),
  }
  return {
    name: 'history',
    handle,
    defined: ({ undo }) => {
      buttons.hidden = !undo
      show()
    },
    arranged(arrangement, _, { before, why }) {
      if (walking || why !== 'reader') return
      acts.note({ ...arrangement, ...before }, arrangement, performance.now())
      show()
    },
    noteAct(act) {
      acts.noteOther(act)
      show()
    },
    // What one did is not for the other to take back.
    handedOver() {
      acts.clear()
      show()
    },
    gridKey({ key, ctrlKey, metaKey, shiftKey, altKey }) {
      if (!(ctrlKey || metaKey) || altKey || key.toLowerCase() !== 'z') return false
      return walk(shiftKey ? 'redo' : 'undo')
    },
  }
}
