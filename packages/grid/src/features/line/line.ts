import { NoticeView } from '../../kernel/notice-view.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/**
 * Tells in the foot when the line to rows that are elsewhere fails, for as long as it does, and when what is arranged
 * cannot be shown, until something is.
 */
export function line({ texts, foot, disposal, announcer }: Kernel): Feature {
  /** Most grids never need it. */
  let notice: NoticeView | null = null
  let failing = false
  let isNotShown = false
  function tell(said: string): void {
    if (!notice) {
      notice = new NoticeView(texts, disposal)
      foot.addAtEnd(notice.element)
    }
    notice.show(said, [], true)
    announcer.say(said)
  }
  return {
    name: 'line',
    lineTold(problem) {
      if (problem !== null) tell(texts.lineFails(problem))
      else if (failing) {
        notice?.hide()
        announcer.say(texts.lineIsBack)
      }
      failing = problem !== null
    },
    notShown(problem) {
      // Where the line fails, that is why, and it is told already.
      if (failing) return
      if (problem !== null) tell(texts.notShown(problem))
      else if (isNotShown) notice?.hide()
      isNotShown = problem !== null
    },
  }
}
