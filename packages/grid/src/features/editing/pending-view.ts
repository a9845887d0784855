import { isInConflict, type TypedRow } from '@vast-meadow/engine/editing'
import type { RowId } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { Popup } from '../../kernel/popup.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'
import type { PendingRows } from './pending-rows.ts'

export interface PendingViewHost {
  save(): void
  discard(): void
  takeBack(name: string, field: string | null): void
  settle(name: string, field: string | null, keep: 'mine' | 'theirs'): void
  goTo(name: string): void
}

/** Rows that are listed at once. */
const MOST_LISTED = 200

/** In the foot: how much is not saved, and what can be done with it; as a list, with what was there before. */
export class PendingView {
  saving = false
  private readonly kernel: Kernel
  private readonly pending: PendingRows
  private readonly texts: EditingTexts
  private readonly host: PendingViewHost
  private readonly element: HTMLElement
  private readonly count: HTMLElement
  private readonly wrong: HTMLElement
  /** What is to be said of the cell that the keyboard is on. */
  private readonly here: HTMLElement
  private readonly saveButton: HTMLButtonElement
  private readonly discardButton: HTMLButtonElement
  private readonly listButton: HTMLButtonElement
  private readonly list: HTMLElement
  private readonly popup: Popup

  constructor(kernel: Kernel, pending: PendingRows, texts: EditingTexts, host: PendingViewHost) {
    this.kernel = kernel
    this.pending = pending
    this.texts = texts
    this.host = host
    const { foot, frame, disposal } = kernel
    this.element = make('span', 'pending-changes')
    this.element.hidden = true
    this.count = make('b', '', this.element)
    this.wrong = make('span', 'wrong-count', this.element)
    this.here = make('span', 'pending-here')
    const button = (text: string, className: string, act: () => void): HTMLButtonElement => {
      const made = make('button', className, this.element)
      made.type = 'button'
      made.textContent = text
      disposal.listen(made, 'click', act)
      return made
    }
    this.listButton = button(texts.show, 'offer', () => this.toggle())
    this.discardButton = button(texts.discard, 'offer', () => host.discard())
    this.saveButton = button(texts.save, 'offer strong', () => host.save())
    foot.addAtStart(this.element)
    foot.addAtEnd(this.here)
    this.list = make('div', 'pending-list', frame)
    this.list.setAttribute('role', 'dialog')
    this.list.ariaLabel = texts.listTitle
    this.popup = new Popup(this.list, { place: 'under', outside: () => this.hide() }, disposal)
    disposal.listen(this.list, 'keydown', event => {
      if (event.key !== 'Escape') return
      event.stopPropagation()
      this.hide()
      this.listButton.focus()
    })
    disposal.add(() => this.element.remove())
  }

  show(): void {
    const { texts, kernel, saving } = this
    const { changed, added, removed, notValid, conflicts, refused } = this.pending.typed.counts()
    const all = changed + added + removed
    this.element.hidden = all === 0
    this.count.textContent = saving ? texts.saving : texts.changes(kernel.format(all), all)
    this.wrong.textContent = [
      notValid > 0 && texts.notValid(kernel.format(notValid), notValid),
      conflicts > 0 && texts.conflicts(kernel.format(conflicts), conflicts),
      refused > 0 && texts.refusedCount(kernel.format(refused), refused),
    ]
      .filter(Boolean)
      .join(', ')
    this.saveButton.disabled = this.discardButton.disabled = saving
    const savesItself = kernel.model.definition?.editing.save !== 'many'
    // Where cells or rows are saved by themselves, what is left was refused, or is not right.
    this.saveButton.hidden = savesItself && refused === 0
    if (all === 0) this.hide()
    else if (this.popup.open) this.fill()
  }

  /** Says of the cell that the keyboard is on what was there before, and what is wrong with it. */
  showHere(id: RowId | null, column: string): void {
    const row = id === null ? undefined : this.pending.rowOf(id)
    const cell = row?.cells.get(column)
    const said = row
      ? [...(cell ? this.pending.saysOf(row, cell, column) : []), ...this.pending.saysOfRow(row)]
      : []
    const text = said.join(' ')
    if (this.here.textContent !== text) this.here.textContent = text
  }

  private toggle(): void {
    if (this.popup.open) {
      this.hide()
      return
    }
    this.fill()
    this.popup.show(this.listButton)
    this.list.querySelector<HTMLElement>('button')?.focus()
  }

  private hide(): void {
    this.popup.hide()
  }

  private fill(): void {
    const { texts, list, kernel } = this
    const rows = this.pending.typed.list()
    const hadFocus = list.contains(kernel.root.activeElement)
    list.replaceChildren()
    const title = make('div', 'pending-title', list)
    title.textContent = texts.listTitle
    const close = this.button(title, texts.close, () => {
      this.hide()
      this.listButton.focus()
    })
    for (const row of rows.slice(0, MOST_LISTED)) this.addRow(row)
    if (rows.length > MOST_LISTED)
      make('div', 'pending-more', list).textContent = texts.listMore(
        kernel.format(rows.length - MOST_LISTED),
        rows.length - MOST_LISTED,
      )
    if (hadFocus) close.focus()
    if (this.popup.open) this.popup.place()
  }

  private addRow(row: TypedRow): void {
    const { texts, host, kernel } = this
    const part = make('div', 'pending-row', this.list)
    const head = make('div', 'pending-head', part)
    const name = this.button(head, this.nameOf(row), () => {
      this.hide()
      host.goTo(row.name)
    })
    name.classList.add('pending-name')
    const calm = row.problem === null && row.reason === null && !row.gone
    for (const said of this.pending.saysOfRow(row))
      make('span', calm ? 'pending-said calm' : 'pending-said', head).textContent = said
    this.button(head, texts.takeBack, () => host.takeBack(row.name, null))
    if (isInConflict(row)) {
      if (!row.gone) this.button(head, texts.keepMine, () => host.settle(row.name, null, 'mine'))
      this.button(head, texts.takeTheirs, () => host.settle(row.name, null, 'theirs'))
    }
    if (row.removed) return
    for (const [column, cell] of row.cells) {
      const line = make('div', 'pending-cell', part)
      make('span', 'pending-column', line).textContent = kernel.model.titleOf(column)
      const show = kernel.model.showOf(column)
      if (!row.isNew) make('s', '', line).textContent = show(cell.before) || '–'
      const now = make('b', '', line)
      now.textContent = (cell.now.text ?? show(cell.now.value)) || '–'
      now.classList.toggle('wrong', cell.problem !== null)
      if (cell.problem) make('span', 'pending-said', line).textContent = texts.problem(cell.problem)
      if (cell.theirs !== undefined)
        make('span', 'pending-said', line).textContent = texts.savedMeanwhile(show(cell.theirs))
      if (!row.isNew) this.button(line, texts.takeBack, () => host.takeBack(row.name, column))
    }
  }

  private nameOf({ key, isNew }: TypedRow): string {
    if (isNew) return this.texts.newRowNamed
    return Array.isArray(key) ? key.join(', ') : String(key)
  }

  private button(parent: HTMLElement, text: string, act: () => void): HTMLButtonElement {
    const made = make('button', 'offer', parent)
    made.type = 'button'
    made.textContent = text
    made.onclick = act
    return made
  }
}
