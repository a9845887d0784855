import { type Disposal, elementOf, focusedBeside, keepKey, make } from '../../kernel/dom.ts'
import type { MenuEntry } from '../../kernel/feature.ts'
import type { Texts } from '../../kernel/texts.ts'
import { Popup } from '../../kernel/popup.ts'

/** What can be asked from a cell: opened by its context menu key or a secondary click. */
export class CellMenu {
  private readonly element: HTMLElement
  private readonly popup: Popup
  private giveBack: (() => void) | null = null

  constructor(frame: HTMLElement, texts: Texts, disposal: Disposal) {
    this.element = make('div', 'cell-menu', frame)
    this.element.setAttribute('role', 'menu')
    this.element.setAttribute('part', 'cell-menu')
    this.element.ariaLabel = texts.cellMenu
    this.popup = new Popup(this.element, { place: 'under', outside: () => this.close(false) }, disposal)
    disposal.listen(this.element, 'keydown', event => this.key(event))
    disposal.listen(this.element, 'focusout', event => {
      if (!this.element.contains(elementOf(event.relatedTarget))) this.close(false)
    })
  }

  /** `giveBack`: gives the focus back to what was asked, wherever that stands by then. */
  open(entries: readonly MenuEntry[], anchor: HTMLElement, giveBack: () => void): void {
    if (entries.length === 0) return
    this.giveBack = giveBack
    this.element.replaceChildren(...entries.map(entry => this.item(entry)))
    this.popup.show(anchor)
    elementOf(this.element.firstElementChild)?.focus()
  }

  private item(entry: MenuEntry): HTMLElement {
    const item = make('button', '')
    item.type = 'button'
    item.tabIndex = -1
    item.setAttribute('role', 'menuitem')
    item.textContent = entry.text
    item.onclick = () => {
      this.close(true)
      entry.act()
    }
    return item
  }

  private close(giveBack: boolean): void {
    if (!this.popup.open) return
    const back = this.giveBack
    this.giveBack = null
    this.popup.hide()
    if (giveBack) back?.()
  }

  private key(event: KeyboardEvent): void {
    const items = [...this.element.querySelectorAll<HTMLElement>('[role=menuitem]')]
    const focused = focusedBeside(this.element)
    const at = focused ? items.indexOf(focused) : -1
    const moves: Readonly<Record<string, number>> = {
      ArrowDown: (at + 1) % items.length,
      ArrowUp: (at - 1 + items.length) % items.length,
      Home: 0,
      End: items.length - 1,
    }
    keepKey(event)
    if (event.key === 'Escape' || event.key === 'Tab') this.close(true)
    else if (event.key in moves) items[moves[event.key]].focus()
    else return
    event.preventDefault()
  }
}
