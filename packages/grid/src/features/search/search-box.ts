import { make, type Disposal } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface SearchBoxHost {
  search(text: string): void
  /** Goes to the next cell that the search marks, or to the one before. */
  toMatch(step: 1 | -1): void
}

/** The field that searches, how many rows it finds, and the way through what it marks. */
export class SearchBox {
  readonly input: HTMLInputElement
  readonly matches: HTMLElement
  private readonly found: HTMLElement
  private readonly texts: Texts

  constructor(texts: Texts, host: SearchBoxHost, disposal: Disposal) {
    this.texts = texts
    this.input = make('input', 'search')
    this.input.type = 'search'
    this.input.placeholder = texts.search
    this.input.ariaLabel = texts.search
    this.matches = make('div', 'matches')
    this.matches.hidden = true
    this.found = make('span', 'found', this.matches)
    for (const step of [-1, 1] as const) {
      const turn = make('button', 'button turn', this.matches)
      turn.type = 'button'
      turn.textContent = step === 1 ? '↓' : '↑'
      turn.ariaLabel = step === 1 ? texts.nextMatch : texts.previousMatch
      disposal.listen(turn, 'click', () => host.toMatch(step))
    }
    disposal.listen(this.input, 'input', () => host.search(this.input.value))
    disposal.listen(this.input, 'keydown', event => {
      if (event.key !== 'Enter' || this.matches.hidden) return
      event.preventDefault()
      host.toMatch(event.shiftKey ? -1 : 1)
    })
  }

  set(text: string, able: boolean): void {
    if (this.input.value !== text) this.input.value = text
    this.input.disabled = !able
    this.input.title = able ? '' : this.texts.notAble
  }

  /** Shows how many rows the search finds; null: nothing is searched. */
  setFound(text: string | null): void {
    this.matches.hidden = text === null
    if (text !== null && this.found.textContent !== text) this.found.textContent = text
  }
}
