import { NoticeView } from '../../kernel/notice-view.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Tells when the line to rows that are elsewhere fails, for as long as it does. */
export function line({ texts, foot, disposal, announcer }: Kernel): Feature {
  /** Most grids never need it. */
  let notice: NoticeView | null = null
  const tell = (said: string): void => {
    if (!notice) {
      notice = new NoticeView(texts, disposal)
      foot.addAtEnd(notice.element)
    }
    notice.show(said, [], true)
  }
  let failing = false
  return {
    name: 'line',
    lineTold(problem) {
      if (problem !== null) {
        tell(texts.lineFails(problem))
        announcer.say(texts.lineFails(problem))
      } else if (failing) {
        notice?.hide()
        announcer.say(texts.lineIsBack)
      }
      failing = problem !== null
    },
  }
}
