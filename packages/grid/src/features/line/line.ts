import { NoticeView } from '../../kernel/notice-view.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Tells when the line to rows that are elsewhere fails, for as long as it does. */
export function line({ texts, foot, disposal, announcer }: Kernel): Feature {
  const notice = new NoticeView(texts, disposal)
  foot.addAtEnd(notice.element)
  let failing = false
  return {
    name: 'line',
    lineTold(problem) {
      if (problem !== null) {
        notice.show(texts.lineFails(problem), [], true)
        announcer.say(texts.lineFails(problem))
      } else if (failing) {
        notice.hide()
        announcer.say(texts.lineIsBack)
      }
      failing = problem !== null
    },
  }
}
