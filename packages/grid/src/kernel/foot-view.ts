import type { View } from '@vast-meadow/engine'
import { make } from './dom.ts'
import type { Texts } from './texts.ts'

export interface Readout {
  /** First and last line in view, 1-based; 0 where there is none. */
  readonly from: number
  readonly to: number
  /** Groups by level. */
  readonly groups: readonly number[]
  readonly passing: number
  readonly total: number
  /** How sure the counts are; null: nothing is shown. */
  readonly counts: Pick<View['counts'], 'passing' | 'total'> | null
}

/** Which rows are in view and how many pass; features put more at its ends. */
export class FootView {
  readonly element: HTMLElement
  private readonly count: HTMLElement
  /** Says which lines are in view; a press may lead elsewhere. */
  readonly span: HTMLButtonElement
  private readonly passing: HTMLElement
  private readonly beside: Text
  private readonly total: Text
  private readonly texts: Texts
  private readonly format: (count: number) => string
  private last = ''

  constructor(parent: HTMLElement, texts: Texts, format: (count: number) => string) {
    this.texts = texts
    this.format = format
    this.element = make('div', 'foot', parent)
    this.element.setAttribute('part', 'foot')
    this.count = make('span', 'count', this.element)
    this.span = make('button', 'span', this.count)
    this.span.type = 'button'
    this.beside = document.createTextNode('')
    this.count.append(this.beside)
    this.passing = make('b', '', this.count)
    this.total = document.createTextNode('')
    this.count.append(this.total)
  }

  addAtStart(element: HTMLElement): void {
    this.count.before(element)
  }

  addAtEnd(element: HTMLElement): void {
    this.element.append(element)
  }

  /** The language is another: what is shown is written anew. */
  forget(): void {
    this.last = ''
  }

  /** Written at most once a frame, and only what changed. */
  show(readout: Readout): void {
    const signature = JSON.stringify(readout)
    if (signature === this.last) return
    this.last = signature
    const { texts, format } = this
    const { from, to, groups, passing, total, counts } = readout
    const known = (count: number, of: 'passing' | 'total'): string =>
      (counts?.[of].kind ?? 'exact') === 'exact' ? format(count) : texts.atLeast(format(count), count)
    const lowest = groups.at(-1)
    const what = groups.length > 0 ? texts.lines : texts.rows
    const span = to > 0 ? `${what} ${texts.readout(format(from), format(to))}` : ''
    if (this.span.textContent !== span) this.span.textContent = span
    this.span.hidden = span === ''
    const grouped =
      lowest === undefined ? '' : `${texts.groupsCounted(format(lowest), lowest)}${texts.parted}`
    const beside = span === '' ? '' : `${texts.parted}${grouped}`
    if (this.beside.nodeValue !== beside) this.beside.nodeValue = beside
    const counted = known(passing, 'passing')
    if (this.passing.textContent !== counted) this.passing.textContent = counted
    const rest =
      passing === total
        ? ` ${texts.rows}`
        : ` ${texts.of} ${known(total, 'total')} ${texts.rows} ${texts.passing}`
    if (this.total.nodeValue !== rest) this.total.nodeValue = rest
  }
}
