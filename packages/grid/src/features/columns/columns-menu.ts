import { COLUMN_PARTS } from '@vast-meadow/engine/client'
import type { ColumnPart, ColumnPlace } from '@vast-meadow/engine'
import { elementOf, focusedBeside, make, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { Texts } from '../../kernel/texts.ts'
import { enableListDrag } from './list-drag.ts'

export interface MenuColumn {
  readonly key: string
  readonly title: string
  readonly shown: boolean
  /** The shared heading that it stands under; empty: none. */
  readonly under: string
  readonly part: ColumnPart
  /** Readers may put it elsewhere. */
  readonly movable: boolean
  /** It is shown, but left out because the grid is too narrow. */
  readonly noRoom: boolean
}

export interface ColumnsMenuHost {
  /** All columns in the order in which they stand within their parts, those that are hidden among them. */
  columns(): readonly MenuColumn[]
  /** Whether they stand as at the start. */
  asAtStart(): boolean
  canFit(): boolean
  show(key: string, shown: boolean): void
  move(key: string, place: ColumnPlace): void
  backToStart(): void
  fitAll(): void
  fitToRoom(): void
}

/** Columns listed at once; more are found by typing. */
const LISTED = 150

/** The list in which columns are found, shown and hidden, put elsewhere and pinned. Only titles are read, never keys. */
export class ColumnsMenu {
  private readonly element: HTMLElement
  private readonly popup: Popup
  private readonly find: HTMLInputElement
  private readonly list: HTMLElement
  private readonly foot: HTMLElement
  private readonly button: HTMLElement
  private readonly texts: Texts
  private readonly host: ColumnsMenuHost
  private listed: readonly MenuColumn[] = []

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
    this.foot = make('div', 'menu-foot', this.element)
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
    enableListDrag(this.list, (from, to) => this.drop(from, to), disposal)
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
    this.foot.replaceChildren()
  }

  private fill(): void {
    const wanted = this.find.value.trim().toLowerCase()
    const all = inParts(this.host.columns()).filter(column =>
      `${column.title} ${column.under}`.toLowerCase().includes(wanted),
    )
    const focused = focusedBeside(this.element)?.dataset.control
    const { scrollTop } = this.list
    this.listed = all.slice(0, LISTED)
    const parted = this.listed.some(({ part }) => part !== 'middle')
    this.list.replaceChildren()
    this.listed.forEach((column, nth) => {
      // Where each part begins is told, as soon as there is more than one.
      if (parted && column.part !== this.listed[nth - 1]?.part)
        make('li', 'part-name', this.list).textContent = this.texts.partNames[column.part]
      this.list.append(this.item(column, nth))
    })
    if (all.length > LISTED)
      make('li', 'more', this.list).textContent = this.texts.moreColumns(all.length - LISTED)
    if (all.length === 0) make('li', 'more', this.list).textContent = this.texts.noSuchColumn
    this.fillFoot()
    this.list.scrollTop = scrollTop
    if (focused === undefined) return
    // What had the focus may mean nothing any more.
    const again = this.element.querySelector<HTMLElement>(
      `[data-control="${CSS.escape(focused)}"]:not(:disabled)`,
    )
    ;(again ?? this.find).focus()
  }

  private fillFoot(): void {
    const { texts, host } = this
    const act = (control: string, text: string, done: () => void): HTMLButtonElement => {
      const button = make('button', 'button', this.foot)
      button.type = 'button'
      button.textContent = text
      button.dataset.control = control
      button.onclick = done
      return button
    }
    this.foot.replaceChildren()
    act('start', texts.columnsAsAtStart, () => host.backToStart()).disabled = host.asAtStart()
    if (host.canFit()) act('fit', texts.fitAll, () => host.fitAll())
    act('room', texts.fitToRoom, () => host.fitToRoom())
  }

  private item(column: MenuColumn, nth: number): HTMLElement {
    const { texts, host } = this
    const { key, title } = column
    const item = make('li')
    item.dataset.nth = String(nth)
    const handle = make('button', 'move', item)
    handle.type = 'button'
    handle.textContent = '⠿'
    handle.ariaLabel = column.movable ? texts.moveInList(title) : texts.cannotMove(title)
    handle.title = handle.ariaLabel
    handle.disabled = !column.movable
    handle.dataset.control = `move ${key}`
    handle.onkeydown = event => {
      const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0
      if (step === 0) return
      event.preventDefault()
      this.drop(nth, step === 1 ? nth + 2 : nth - 1)
    }
    const label = make('label', '', item)
    const box = make('input', '', label)
    box.type = 'checkbox'
    box.checked = column.shown
    box.dataset.control = `show ${key}`
    box.onchange = () => host.show(key, box.checked)
    make('span', '', label).textContent = title
    if (column.under) make('small', '', label).textContent = column.under
    if (column.noRoom) make('small', '', label).textContent = texts.noRoom
    for (const part of ['start', 'end'] as const) {
      const pin = make('button', 'pin', item)
      const isThere = column.part === part
      pin.type = 'button'
      pin.textContent = texts.pinShort[part]
      pin.ariaPressed = String(isThere)
      pin.ariaLabel = texts.pin(texts.pinShort[part], title)
      pin.title = pin.ariaLabel
      pin.disabled = !column.movable
      pin.dataset.control = `${part} ${key}`
      pin.onclick = () => host.move(key, { part: isThere ? 'middle' : part, before: null })
    }
    return item
  }

  /** Puts a column of the list before another one of it, in whose part it stands then; behind the last: in its part. */
  private drop(from: number, to: number): void {
    const { listed } = this
    const moved = listed.at(from)
    if (!moved?.movable || to < 0 || to > listed.length || to === from || to === from + 1) return
    const next = listed[to] as MenuColumn | undefined
    // Between two parts it stays in its own where that ends there.
    const before = listed[to - 1] as MenuColumn | undefined
    const stays = next && before && next.part !== before.part && before.part === moved.part && to > from
    const part = stays ? before.part : (next ?? before ?? moved).part
    this.host.move(moved.key, { part, before: next && !stays ? next.key : null })
  }
}

/** Columns in the order in which a list tells them: part by part. */
const inParts = (columns: readonly MenuColumn[]): MenuColumn[] =>
  COLUMN_PARTS.flatMap(part => columns.filter(column => column.part === part))
