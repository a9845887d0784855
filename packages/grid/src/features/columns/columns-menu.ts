import { elementOf, focusedBeside, make, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface MenuColumn {
  readonly key: string
  readonly title: string
  readonly shown: boolean
  readonly pinned: boolean
  /** It is shown, but left out because the grid is too narrow. */
  readonly noRoom: boolean
}

export interface ColumnsMenuHost {
  columns(): readonly MenuColumn[]
  show(key: string, shown: boolean): void
  pin(key: string, pinned: boolean): void
}

/** Columns listed at once; more are found by typing. */
const LISTED = 150

/** The list in which columns are shown, hidden and held at the start edge. Only titles are read, never keys. */
export class ColumnsMenu {
  private readonly element: HTMLElement
  private readonly popup: Popup
  private readonly find: HTMLInputElement
  private readonly list: HTMLElement
  private readonly button: HTMLElement
  private readonly texts: Texts
  private readonly host: ColumnsMenuHost

  constructor(
    parent: HTMLElement,
    button: HTMLElement,
    texts: Texts,
    host: ColumnsMenuHost,
    disposal: Disposal,
  ) {
    this.button = button
    this.texts = texts
    this.host = host
    this.element = make('div', 'menu', parent)
    this.popup = new Popup(this.element, { place: 'under', outside: () => this.close() }, disposal)
    this.element.setAttribute('role', 'dialog')
    this.element.ariaLabel = texts.columns
    this.find = make('input', 'search', this.element)
    this.find.type = 'search'
    this.find.placeholder = texts.findColumn
    this.find.ariaLabel = texts.findColumn
    this.list = make('ul', '', this.element)
    disposal.listen(this.find, 'input', () => this.fill())
    disposal.listen(this.element, 'keydown', event => {
      if (event.key !== 'Escape') return
      event.preventDefault()
      event.stopPropagation()
      this.close()
      this.button.focus()
    })
    disposal.listen(this.element, 'focusout', event => {
      const to = elementOf(event.relatedTarget)
      if (to && !this.element.contains(to) && to !== this.button) this.close()
    })
  }

  toggle(): void {
    if (this.popup.open) this.close()
    else this.open()
  }

  /** Shows what changed while the list is open. */
  update(): void {
    if (this.popup.open) this.fill()
  }

  private open(): void {
    this.button.ariaExpanded = 'true'
    this.find.value = ''
    this.fill()
    this.popup.show(this.button)
    this.find.focus()
  }

  private close(): void {
    this.popup.hide()
    this.button.ariaExpanded = 'false'
    this.list.replaceChildren()
  }

  private fill(): void {
    const wanted = this.find.value.trim().toLowerCase()
    const all = this.host.columns().filter(column => column.title.toLowerCase().includes(wanted))
    const focused = focusedBeside(this.list)?.dataset.control
    this.list.replaceChildren(...all.slice(0, LISTED).map(column => this.item(column)))
    if (all.length > LISTED)
      make('li', 'more', this.list).textContent = this.texts.moreColumns(all.length - LISTED)
    if (focused) this.list.querySelector<HTMLElement>(`[data-control="${CSS.escape(focused)}"]`)?.focus()
  }

  private item(column: MenuColumn): HTMLElement {
    const item = make('li')
    const label = make('label', '', item)
    const box = make('input', '', label)
    box.type = 'checkbox'
    box.checked = column.shown
    box.dataset.control = `show ${column.key}`
    box.onchange = () => this.host.show(column.key, box.checked)
    make('span', '', label).textContent = column.title
    if (column.noRoom) make('small', '', label).textContent = this.texts.noRoom
    const pin = make('button', 'pin', item)
    pin.type = 'button'
    pin.textContent = this.texts.pinShort
    pin.ariaPressed = String(column.pinned)
    pin.ariaLabel = this.texts.pin(column.title)
    pin.dataset.control = `pin ${column.key}`
    pin.onclick = () => this.host.pin(column.key, !column.pinned)
    return item
  }
}
