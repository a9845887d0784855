import { make, type Disposal } from '../dom.ts'
import type { Texts } from '../texts.ts'

export interface Chip {
  readonly name: string
  readonly before: string
  readonly after: string
  lift(): void
  /** Shows the editor of what the chip says, where there is one. */
  open?(): void
}

export interface BarHost {
  search(text: string): void
  /** Goes to the next cell that the search marks, or to the one before. */
  toMatch(step: 1 | -1): void
  openColumns(): void
}

/** The grid's own bar: search, what is active, and the way to the columns. */
export class BarView {
  readonly element: HTMLElement
  private readonly input: HTMLInputElement
  /** How many rows a search finds, and the way through what it marks. */
  private readonly matches: HTMLElement
  private readonly found: HTMLElement
  private readonly chips: HTMLElement
  /** Where there is little room, chips are folded behind it. */
  private readonly fold: HTMLButtonElement
  private readonly working: HTMLElement
  readonly columnsButton: HTMLButtonElement
  private readonly texts: Texts
  private shownChips = ''

  constructor(parent: HTMLElement, texts: Texts, host: BarHost, disposal: Disposal) {
    this.texts = texts
    this.element = make('div', 'bar', parent)
    this.element.setAttribute('part', 'bar')
    this.input = make('input', 'search', this.element)
    this.input.type = 'search'
    this.input.placeholder = texts.search
    this.input.ariaLabel = texts.search
    this.matches = make('div', 'matches', this.element)
    this.matches.hidden = true
    this.found = make('span', 'found', this.matches)
    for (const step of [-1, 1] as const) {
      const turn = make('button', 'button turn', this.matches)
      turn.type = 'button'
      turn.textContent = step === 1 ? '↓' : '↑'
      turn.ariaLabel = step === 1 ? texts.nextMatch : texts.previousMatch
      disposal.listen(turn, 'click', () => host.toMatch(step))
    }
    this.chips = make('div', 'chips', this.element)
    this.fold = make('button', 'button fold', this.element)
    this.fold.type = 'button'
    this.fold.hidden = true
    this.fold.ariaExpanded = 'false'
    this.columnsButton = make('button', 'button', this.element)
    this.columnsButton.type = 'button'
    this.columnsButton.textContent = texts.columns
    this.columnsButton.ariaExpanded = 'false'
    this.working = make('div', 'working', this.element)
    disposal.listen(this.input, 'input', () => host.search(this.input.value))
    disposal.listen(this.input, 'keydown', event => {
      if (event.key !== 'Enter' || this.matches.hidden) return
      event.preventDefault()
      host.toMatch(event.shiftKey ? -1 : 1)
    })
    disposal.listen(this.fold, 'click', () => {
      const open = this.chips.classList.toggle('open')
      this.fold.ariaExpanded = String(open)
    })
    disposal.listen(this.columnsButton, 'click', () => host.openColumns())
  }

  setSearch(text: string, able: boolean): void {
    if (this.input.value !== text) this.input.value = text
    this.input.disabled = !able
    this.input.title = able ? '' : this.texts.notAble
  }

  /** Shows how many rows the search finds; null: nothing is searched. */
  setFound(text: string | null): void {
    this.matches.hidden = text === null
    if (text !== null && this.found.textContent !== text) this.found.textContent = text
  }

  /** Whether readers may search at all. */
  showSearch(shown: boolean): void {
    this.input.hidden = !shown
  }

  setWorking(on: boolean): void {
    this.working.classList.toggle('on', on)
  }

  setChips(chips: readonly Chip[]): void {
    const signature = JSON.stringify(chips)
    if (signature === this.shownChips) return
    this.shownChips = signature
    const active = (this.chips.getRootNode() as ShadowRoot).activeElement
    const hadFocus = active !== null && this.chips.contains(active)
    this.fold.hidden = chips.length === 0
    this.fold.textContent = this.texts.active(chips.length)
    this.chips.replaceChildren(...chips.map(chip => this.chip(chip)))
    if (hadFocus) (this.chips.querySelector('button') ?? this.input).focus()
  }

  private chip({ name, before, after, lift, open }: Chip): HTMLElement {
    const element = make('span', 'chip')
    const label = make(open ? 'button' : 'span', 'what', element)
    if (open) label.onclick = open
    if (before) label.append(`${before} `)
    make('b', '', label).textContent = name
    if (after) label.append(` ${after}`)
    label.title = label.textContent
    const button = make('button', 'lift', element)
    button.type = 'button'
    button.textContent = '×'
    button.ariaLabel = this.texts.lift(label.textContent)
    button.onclick = lift
    return element
  }
}
