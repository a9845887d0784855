import { make, type Disposal } from './dom.ts'
import type { Texts } from './texts.ts'

export interface NoticeOffer {
  readonly text: string
  act(): void
}

/** In the foot: what was done last, or why it failed, and what can be done about it; it stays until it is put away or another takes its place. */
export class NoticeView {
  readonly element: HTMLElement
  private readonly text: HTMLElement
  private readonly offers: HTMLElement
  private readonly texts: Texts

  constructor(texts: Texts, disposal: Disposal) {
    this.texts = texts
    this.element = make('span', 'notice')
    this.element.hidden = true
    this.text = make('span', '', this.element)
    this.offers = make('span', 'offers', this.element)
    disposal.add(() => this.hide())
  }

  show(text: string, offers: readonly NoticeOffer[], failed: boolean): void {
    this.element.classList.toggle('failed', failed)
    this.text.textContent = text
    const button = (offer: NoticeOffer): HTMLElement => {
      const made = make('button', 'offer')
      made.type = 'button'
      made.textContent = offer.text
      made.onclick = () => {
        this.hide()
        offer.act()
      }
      return made
    }
    this.offers.replaceChildren(...[...offers, { text: this.texts.putAway, act: () => {} }].map(button))
    this.element.hidden = false
  }

  hide(): void {
    this.element.hidden = true
  }
}
