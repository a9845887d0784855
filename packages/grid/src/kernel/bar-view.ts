import { ChipsView } from './chips-view.ts'
import { make, type Disposal } from './dom.ts'
import type { Texts } from './texts.ts'

/** The grid's own bar: what features put at its ends, what is active between them, and that work is under way. */
export class BarView {
  readonly element: HTMLElement
  readonly chips: ChipsView
  private readonly working: HTMLElement

  constructor(parent: HTMLElement, texts: Texts, disposal: Disposal) {
    this.element = make('div', 'bar', parent)
    this.element.setAttribute('part', 'bar')
    this.chips = new ChipsView(texts, disposal)
    this.element.append(this.chips.element, this.chips.fold)
    this.working = make('div', 'working', this.element)
  }

  addAtStart(...elements: HTMLElement[]): void {
    this.chips.element.before(...elements)
  }

  addAtEnd(...elements: HTMLElement[]): void {
    this.working.before(...elements)
  }

  setWorking(on: boolean): void {
    this.working.classList.toggle('on', on)
  }
}
