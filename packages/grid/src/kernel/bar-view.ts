import { ChipsView } from './chips-view.ts'
import { make, type Disposal } from './dom.ts'
import type { Texts } from './texts.ts'

/** The grid's own bar: what features put at its ends, what is active between them, and that work is under way. */
export class BarView {
  readonly element: HTMLElement
  readonly chips: ChipsView
  private readonly tools: HTMLElement
  private readonly working: HTMLElement

  constructor(parent: HTMLElement, texts: Texts, disposal: Disposal) {
    this.element = make('div', 'bar', parent)
    this.element.setAttribute('part', 'bar')
    this.chips = new ChipsView(texts, disposal)
    this.element.append(this.chips.element, this.chips.fold)
    // Several tools fold behind one button where there is little room.
    const more = make('button', 'button more', this.element)
    more.type = 'button'
    more.textContent = texts.more
    more.ariaExpanded = 'false'
    this.tools = make('span', 'tools', this.element)
    disposal.listen(more, 'click', () => {
      more.ariaExpanded = String(this.tools.classList.toggle('open'))
    })
    this.working = make('div', 'working', this.element)
  }

  addAtStart(...elements: HTMLElement[]): void {
    this.chips.element.before(...elements)
  }

  addAtEnd(...elements: HTMLElement[]): void {
    this.tools.append(...elements)
  }

  setWorking(on: boolean): void {
    this.working.classList.toggle('on', on)
  }
}
