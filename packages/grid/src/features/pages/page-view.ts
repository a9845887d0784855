import { make, type Disposal } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface PageState {
  /** From 0. */
  readonly page: number
  readonly pages: number
  readonly size: number
  /** Sizes to choose from; none: the choice is not shown. */
  readonly sizes: readonly number[]
}

export interface PageHost {
  goTo(page: number): void
  resize(size: number): void
}

/** The way from page to page, and how many lines stand on one. */
export class PageView {
  readonly element: HTMLElement
  private readonly buttons: HTMLButtonElement[]
  private readonly input: HTMLInputElement
  private readonly of: HTMLElement
  private readonly sizeLabel: HTMLElement
  private readonly sizes: HTMLSelectElement
  private readonly texts: Texts
  private readonly format: (count: number) => string
  private state: PageState | null = null

  constructor(
    parent: HTMLElement,
    texts: Texts,
    format: (count: number) => string,
    host: PageHost,
    disposal: Disposal,
  ) {
    this.texts = texts
    this.format = format
    this.element = make('nav', 'pages', parent)
    this.element.ariaLabel = texts.pages
    this.element.setAttribute('part', 'pages')
    this.sizeLabel = make('label', 'sizes', this.element)
    this.sizeLabel.append(`${texts.rowsOnPage} `)
    this.sizes = make('select', '', this.sizeLabel)
    const go = (page: number): void => {
      if (this.state) host.goTo(Math.max(0, Math.min(page, this.state.pages - 1)))
    }
    const step = (text: string, label: string, to: (state: PageState) => number): HTMLButtonElement => {
      const button = make('button', 'button turn', this.element)
      button.type = 'button'
      button.textContent = text
      button.ariaLabel = label
      button.title = label
      button.onclick = () => this.state && go(to(this.state))
      return button
    }
    const first = step('«', texts.firstPage, () => 0)
    const previous = step('‹', texts.previousPage, ({ page }) => page - 1)
    const label = make('label', 'goto', this.element)
    label.append(`${texts.page} `)
    this.input = make('input', '', label)
    this.input.type = 'text'
    this.input.inputMode = 'numeric'
    this.of = make('span', '', label)
    const next = step('›', texts.nextPage, ({ page }) => page + 1)
    const last = step('»', texts.lastPage, ({ pages }) => pages - 1)
    this.buttons = [first, previous, next, last]
    disposal.listen(this.input, 'change', () => {
      const wanted = Number(this.input.value.replace(/[^\d]/g, ''))
      if (wanted >= 1) go(wanted - 1)
      this.write()
    })
    disposal.listen(this.sizes, 'change', () => host.resize(Number(this.sizes.value)))
  }

  /** null: there are no pages. */
  show(state: PageState | null): void {
    if (JSON.stringify(state) === JSON.stringify(this.state)) return
    this.state = state
    this.element.hidden = state === null
    if (!state) return
    const { page, pages, size, sizes } = state
    const [first, previous, next, last] = this.buttons
    first.disabled = previous.disabled = page === 0
    next.disabled = last.disabled = page >= pages - 1
    this.of.textContent = ` ${this.texts.ofPages(this.format(pages))}`
    this.input.style.inlineSize = `${Math.max(2, String(pages).length) + 2}ch`
    this.write()
    this.sizeLabel.hidden = sizes.length === 0
    const offered = sizes.includes(size) ? sizes : [...sizes, size].sort((a, b) => a - b)
    this.sizes.replaceChildren(
      ...offered.map(n => new Option(this.format(n), String(n), n === size, n === size)),
    )
  }

  private write(): void {
    this.input.value = this.state ? String(this.state.page + 1) : ''
  }
}
