import type { ArrangementChange } from '@vast-meadow/engine'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { PageView } from './page-view.ts'

/** Other rows stand on the pages when one of these changes, so that the first page is shown. */
const RESETS_PAGE = ['order', 'conditions', 'where', 'search', 'group', 'pageSize'] as const

/** Lines in pages instead of one long scroll, where the definition wants them. */
export function pages(kernel: Kernel): Feature {
  const { model, texts, foot, announcer, pager, disposal, format } = kernel
  const host = {
    goTo: (page: number) => void model.apply({ page }, 'reader'),
    resize: (pageSize: number) => void model.apply({ pageSize }, 'reader'),
  }
  const view = new PageView(foot.element, texts, format, host, disposal)
  view.element.hidden = true
  foot.addAtEnd(view.element)
  return {
    name: 'pages',
    amend(change): ArrangementChange {
      const turns = model.definition?.pages && !('page' in change) && RESETS_PAGE.some(key => key in change)
      return turns ? { ...change, page: 0 } : change
    },
    arranged(_, change) {
      if (!('page' in change || 'pageSize' in change)) return
      kernel.turnPage()
      const { page, pages: count } = pager.span
      if (kernel.view) announcer.say(`${texts.page} ${page + 1} ${texts.ofPages(String(count))}`)
    },
    drawn() {
      const { page, pages: count } = pager.span
      const { pageSize: size } = model
      const sizes = model.definition?.pages?.sizes ?? []
      view.show(size === null ? null : { page, pages: count, size, sizes })
    },
  }
}
