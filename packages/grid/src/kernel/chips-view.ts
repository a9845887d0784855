import { focusedBeside, make, type Disposal } from './dom.ts'
import type { Texts } from './texts.ts'

export interface Chip {
  readonly name: string
  readonly before: string
  readonly after: string
  lift(): void
  /** Shows the editor of what the chip says, or what else can be done with it, where there is any. */
  open?(anchor: HTMLElement): void
}

/** All that is active, also on columns out of view; each can be lifted there. Folded where there is little room. */
export class ChipsView {
  readonly element: HTMLElement
  readonly fold: HTMLButtonElement
  private readonly texts: Texts
  private shown = ''

  constructor(texts: Texts, disposal: Disposal) {
    this.texts = texts
    this.element = make('div', 'chips')
    this.fold = make('button', 'button fold')
    this.fold.type = 'button'
    this.fold.hidden = true
    this.fold.ariaExpanded = 'false'
    disposal.listen(this.fold, 'click', () => {
      const open = this.element.classList.toggle('open')
      this.fold.ariaExpanded = String(open)
    })
  }

  show(chips: readonly Chip[]): void {
    const signature = JSON.stringify(chips)
    if (signature === this.shown) return
    this.shown = signature
    const active = focusedBeside(this.element)
    const hadFocus = active !== null && this.element.contains(active)
    this.fold.hidden = chips.length === 0
    this.fold.textContent = this.texts.active(chips.length)
    this.element.replaceChildren(...chips.map(chip => this.chip(chip)))
    if (!hadFocus) return
    const beside = this.element.parentElement?.querySelector<HTMLElement>('input, button')
    ;(this.element.querySelector('button') ?? beside)?.focus()
  }

  private chip(chip: Chip): HTMLElement {
    const { name, before, after } = chip
    const element = make('span', 'chip')
    const label = make(chip.open ? 'button' : 'span', 'what', element)
    if (chip.open) label.onclick = () => chip.open?.(label)
    if (before) label.append(`${before} `)
    make('b', '', label).textContent = name
    if (after) label.append(` ${after}`)
    label.title = label.textContent
    const button = make('button', 'lift', element)
    button.type = 'button'
    button.textContent = '×'
    button.ariaLabel = this.texts.lift(label.textContent)
    button.onclick = () => chip.lift()
    return element
  }
}
