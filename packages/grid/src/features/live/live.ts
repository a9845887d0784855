import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** So many changes within this time are a stream, which a reader may want to hold. */
const STREAM = { changes: 3, ms: 3000 }
/** What to hold is offered no more when nothing has changed for so long. */
const QUIET_MS = 10_000

/** Of the grid's handle: rows that change by themselves. */
export interface LiveHandle {
  /** Whether the view is held: changes of rows wait, and are counted. */
  readonly held: boolean
  /** How many changes of rows wait to be shown. */
  readonly waiting: number
  /** Holds the view as it is, or shows what came meanwhile and goes on. */
  hold(on: boolean): void
}

/** Rows that change by themselves can be held in view for as long as they are read. */
export function live(kernel: Kernel): Feature {
  const { changes, texts, foot, announcer, format, disposal } = kernel
  const element = make('span', 'live')
  element.hidden = true
  const waits = make('span', 'waits', element)
  const button = make('button', 'offer', element)
  button.type = 'button'
  foot.addAtEnd(element)
  disposal.listen(button, 'click', () => hold(!changes.paused))
  let times: number[] = []
  let quiet = 0
  disposal.add(() => clearTimeout(quiet))

  function hold(on: boolean): void {
    if (on === changes.paused) return
    changes.pause(on)
    announcer.say(on ? texts.viewHeld : texts.viewGoesOn)
    show()
  }

  function show(): void {
    const { paused: held, waiting } = changes
    button.textContent = held ? texts.goOn : texts.hold
    button.ariaPressed = String(held)
    const said = held ? texts.changesWait(format(waiting), waiting) : ''
    if (waits.textContent !== said) waits.textContent = said
  }

  const handle: LiveHandle = {
    get held() {
      return changes.paused
    },
    get waiting() {
      return changes.waiting
    },
    hold,
  }
  return {
    name: 'live',
    handle,
    changedByItself() {
      const now = performance.now()
      times = [...times.filter(at => now - at < STREAM.ms), now].slice(-STREAM.changes)
      if (times.length >= STREAM.changes) element.hidden = false
      clearTimeout(quiet)
      quiet = window.setTimeout(() => {
        if (!changes.paused) element.hidden = true
      }, QUIET_MS)
      show()
    },
    viewed: show,
  }
}
