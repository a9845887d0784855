import { isRecord } from '@vast-meadow/engine/client'
import type { ActionDone } from '../../painter.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { saidError } from '../../kernel/problem.ts'
import { askFirst } from '../../kernel/confirm-view.ts'

/** An action that is asked for. */
export interface Asked {
  readonly title: string
  /** Asked of the reader before it happens; null: nothing is. */
  readonly question: string | null
  /** Whether the host lets it happen. */
  allowed(): boolean | Promise<boolean>
  /** What happens; it may answer what was done, at once or later. */
  act(): unknown
  /** It is under way, or no longer. */
  busy(on: boolean): void
  failed(reason: string): void
  done(answer: ActionDone | null): void
}

/** What happens when an action's button is pressed: a question where one is asked, then the host's part, and what becomes of it. */
export async function runAction(kernel: Kernel, asked: Asked): Promise<void> {
  const { frame, texts } = kernel
  if (!(await asked.allowed())) return
  if (asked.question !== null && !(await askFirst(frame, texts, asked.question, asked.title))) return
  if (!frame.isConnected) return
  try {
    const answer = asked.act()
    if (!(answer instanceof Promise)) {
      asked.done(doneOf(answer))
      return
    }
    asked.busy(true)
    const later: unknown = await answer
    asked.busy(false)
    asked.done(doneOf(later))
  } catch (error) {
    asked.busy(false)
    console.error(error)
    const reason = saidError(error, texts)
    kernel.tell({ code: 'action-failed', message: texts.actionFailed(asked.title, reason) })
    asked.failed(reason)
  }
}

/** What a handler answered, as far as it tells of what was done. */
export const doneOf = (answer: unknown): ActionDone | null =>
  isRecord(answer) && ('undo' in answer || 'text' in answer) ? answer : null
