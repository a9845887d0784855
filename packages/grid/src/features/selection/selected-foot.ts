import { make, type Disposal } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface SelectedFootHost {
  readonly only: () => void
  readonly next: () => void
  readonly clear: () => void
}

/** In the foot: how many rows are ticked, how many of them do not pass, and ways to them. */
export class SelectedFoot {
  readonly element: HTMLElement
  private readonly count: HTMLElement
  private readonly held: HTMLElement
  private readonly offers: HTMLElement
  private readonly only: HTMLButtonElement
  private readonly next: HTMLButtonElement
  private readonly texts: Texts

  constructor(texts: Texts, host: SelectedFootHost, disposal: Disposal) {
    this.texts = texts
    this.element = make('span', 'selected')
    this.count = make('b', '', this.element)
    this.held = make('span', 'held', this.element)
    this.offers = make('span', 'offers', this.element)
    const offer = (text: string, hint: string, act: () => void): HTMLButtonElement => {
      const button = make('button', 'offer', this.offers)
      button.type = 'button'
      button.textContent = text
      button.title = hint
      disposal.listen(button, 'click', act)
      return button
    }
    this.only = offer(texts.onlyThese, texts.onlyTheseHint, host.only)
    this.next = offer(texts.nextTicked, texts.nextTickedHint, host.next)
    offer(texts.clearTicks, texts.clearTicksHint, host.clear)
    this.show(0, null, false)
  }

  /** `held`: so many of them do not pass; null: nobody knows. `listed`: the ticked rows are known one by one. */
  show(
    count: number,
    held: number | null,
    listed: boolean,
    format: (count: number) => string = String,
  ): void {
    this.element.hidden = count === 0
    this.count.textContent = count > 0 ? this.texts.selected(format(count), count) : ''
    this.held.textContent = held ? this.texts.tickedHeldBack(format(held), held) : ''
    this.only.hidden = this.next.hidden = !listed
  }
}
