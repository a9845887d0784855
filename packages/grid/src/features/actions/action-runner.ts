import type { ActionDone } from '../../painter.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { saidError } from '../../kernel/problem.ts'
import { askFirst } from './confirm-view.ts'

/** An action that is asked for. */
export interface Asked {
  readonly title: string
  /** Asked of the reader before it happens; null: nothing is. */
  readonly question: string | null
  /** Whether the host lets it happen. */
  allowed(): boolean | Promise<boolean>
  /** What happens. */
  act(): void | ActionDone | Promise<void | ActionDone>
  /** It is under way, or no longer. */
  busy(on: boolean): void
  failed(reason: string): void
  done(answer: ActionDone | null): void
}

/** What happens when an action's button is pressed: a question where one is asked, then the host's part, and what becomes of it. */
export async function runAction(kernel: Kernel, asked: Asked): Promise<void> {
  const { frame, texts } = kernel
  if ((await asked.allowed()) === false) return
  if (asked.question !== null && !(await askFirst(frame, texts, asked.question, asked.title))) return
  if (!frame.isConnected) return
  try {
    const answer = asked.act()
    if (!(answer instanceof Promise)) {
      asked.done(answer ?? null)
      return
    }
    asked.busy(true)
    const later = await answer
    asked.busy(false)
    asked.done(later ?? null)
  } catch (error) {
    asked.busy(false)
    console.error(error)
    const reason = saidError(error, texts)
    kernel.tell({ code: 'action-failed', message: texts.actionFailed(asked.title, reason) })
    asked.failed(reason)
  }
}
