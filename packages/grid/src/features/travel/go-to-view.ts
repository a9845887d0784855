import { keepKey, make, makeOption, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { Texts } from '../../kernel/texts.ts'

export type Destination = 'value' | 'line' | 'key'

export interface GoToViewHost {
  destinations(): readonly { readonly to: Destination; readonly text: string }[]
  /** Goes there; answers why it cannot, null where it went. */
  go(to: Destination, written: string): Promise<string | null>
  readonly failed: (error: unknown) => void
  /** The keyboard goes back into the grid. */
  leave(): void
}

/** Where to, and what: a small box beside whatever it was asked from. */
export class GoToView {
  private readonly element: HTMLFormElement
  private readonly popup: Popup
  private readonly choice: HTMLSelectElement
  private readonly field: HTMLInputElement
  private readonly problem: HTMLElement
  private readonly host: GoToViewHost

  constructor(parent: HTMLElement, texts: Texts, host: GoToViewHost, disposal: Disposal) {
    this.host = host
    this.element = make('form', 'card go-to', parent)
    this.element.setAttribute('role', 'dialog')
    this.element.ariaLabel = texts.goToWhat
    this.popup = new Popup(this.element, { place: 'under', outside: () => this.popup.hide() }, disposal)
    const line = make('div', 'field', this.element)
    make('span', '', line).textContent = texts.goToWhat
    this.choice = make('select', '', line)
    this.choice.ariaLabel = texts.goToWhat
    this.field = make('input', 'value', line)
    this.field.ariaLabel = texts.goHint
    const go = make('button', 'button', line)
    go.textContent = texts.go
    this.problem = make('p', 'problem', this.element)
    this.problem.setAttribute('role', 'alert')
    disposal.listen(this.element, 'keydown', event => {
      if (event.key === 'Escape') {
        event.preventDefault()
        event.stopPropagation()
        this.popup.hide()
        this.host.leave()
      } else keepKey(event)
    })
    this.element.onsubmit = event => {
      event.preventDefault()
      void this.go().catch(host.failed)
    }
  }

  open(anchor: Element): void {
    const before = this.choice.value
    const all = this.host.destinations()
    this.choice.replaceChildren()
    for (const { to, text } of all) makeOption(this.choice, to, text)
    this.choice.value = all.some(({ to }) => to === before) ? before : all[0].to
    this.field.value = ''
    this.problem.textContent = ''
    this.popup.show(anchor)
    this.field.focus()
  }

  private async go(): Promise<void> {
    const to = this.host.destinations().find(one => one.to === this.choice.value)?.to
    if (!to || this.field.value.trim() === '') {
      this.field.focus()
      return
    }
    const reason = await this.host.go(to, this.field.value.trim())
    this.problem.textContent = reason ?? ''
    if (reason === null) this.popup.hide()
    else this.field.select()
  }
}
