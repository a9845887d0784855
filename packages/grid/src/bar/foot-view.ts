import { make, type Disposal } from '../dom.ts'
import type { Texts } from '../texts.ts'
import { PageView, type PageHost } from './page-view.ts'

export interface Readout {
  /** First and last line in view, 1-based; 0 where there is none. */
  readonly from: number
  readonly to: number
  readonly grouped: boolean
  readonly passing: number
  readonly total: number
  /** More rows may come: the counts are what is known so far. */
  readonly atLeast: boolean
  readonly selected: number
}

/** Which rows are in view, how many pass, and how many are selected. */
export class FootView {
  readonly element: HTMLElement
  private readonly selected: HTMLElement
  private readonly span: HTMLElement
  private readonly passing: HTMLElement
  private readonly total: Text
  readonly pages: PageView
  private readonly texts: Texts
  private readonly format: (count: number) => string
  private last = ''

  constructor(
    parent: HTMLElement,
    texts: Texts,
    format: (count: number) => string,
    pageHost: PageHost,
    disposal: Disposal,
  ) {
    this.texts = texts
    this.format = format
    this.element = make('div', 'foot', parent)
    this.element.setAttribute('part', 'foot')
    this.selected = make('span', 'selected', this.element)
    const count = make('span', 'count', this.element)
    this.span = make('span', '', count)
    this.passing = make('b', '', count)
    this.total = document.createTextNode('')
    count.append(this.total)
    this.pages = new PageView(this.element, texts, format, pageHost, disposal)
    this.pages.element.hidden = true
  }

  /** Written at most once a frame, and only what changed. */
  show(readout: Readout): void {
    const signature = JSON.stringify(readout)
    if (signature === this.last) return
    this.last = signature
    const { texts, format } = this
    const { from, to, grouped, passing, total, atLeast, selected } = readout
    const known = (count: number): string => (atLeast ? texts.atLeast(format(count)) : format(count))
    this.selected.textContent = selected > 0 ? texts.selected(format(selected)) : ''
    const span =
      to > 0 ? `${grouped ? texts.lines : texts.rows} ${texts.readout(format(from), format(to))} · ` : ''
    if (this.span.textContent !== span) this.span.textContent = span
    this.passing.textContent = known(passing)
    this.total.nodeValue =
      passing === total ? ` ${texts.rows}` : ` ${texts.of} ${known(total)} ${texts.rows} ${texts.passing}`
  }
}
