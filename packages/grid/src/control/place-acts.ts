import type { LineReader, RowId } from '@vast-meadow/engine'
import { SELECT_COLUMN } from '../band/geometry.ts'
import type { Disposal } from '../dom.ts'
import type { Texts } from '../texts.ts'
import type { ActionRunner } from './action-runner.ts'
import type { Announcer } from './announcer.ts'
import type { Asking } from './asking.ts'
import type { Emitter } from './events.ts'
import type { GridModel } from './grid-model.ts'
import type { Navigator } from './navigator.ts'
import type { Screen } from './screen.ts'
import type { Selector } from './selector.ts'

export interface PlaceActsParts {
  readonly model: GridModel
  readonly texts: Texts
  readonly screen: Screen
  readonly selector: Selector
  readonly navigator: Navigator
  readonly asking: Asking
  readonly actions: ActionRunner
  readonly announcer: Announcer
  readonly emitter: Emitter
  /** The lines shown now. */
  lines(): LineReader
  /** How many rows pass. */
  passing(): number
}

interface Place {
  /** −1: the header. */
  readonly line: number
  readonly column: string
}

/** What a reader does at a place of the grid, by pointer or by keyboard: order, select, open, copy, ask. */
export class PlaceActs {
  private readonly parts: PlaceActsParts

  constructor(view: HTMLElement, parts: PlaceActsParts, disposal: Disposal) {
    this.parts = parts
    disposal.listen(view, 'click', event => this.clicked(event))
    disposal.listen(view, 'dblclick', event => {
      const place = this.placeOf(event.target as Element)
      if (place && place.line >= 0) void this.tellRow(place)
    })
    disposal.listen(view, 'contextmenu', event => {
      const place = this.placeOf(event.target as Element)
      // With Shift the browser's own menu is asked for; so it is where text is selected, and on links.
      const own = !event.shiftKey && !(event.target as Element).closest('a[href], input')
      if (place && own && this.openMenu(place.line, place.column)) event.preventDefault()
    })
    disposal.listen(view, 'copy', event => this.copy(event))
  }

  /** The line and the column an element belongs to. */
  placeOf(element: Element): Place | null {
    const { screen, navigator } = this.parts
    const place = screen.placeOf(element)
    return place && { line: place.line, column: place.column ?? navigator.column }
  }

  /** Enter: a header orders, a group opens or closes, a cell does what it is for, else its row is told of. */
  enter(line: number, column: string, adding: boolean): void {
    if (line === -1) this.head(column, adding)
    else if (!this.toggleGroup(line) && !this.parts.navigator.enterCell()) void this.tellRow({ line, column })
  }

  /** Space: selects rows, opens and closes groups. */
  space(line: number, column: string, extending: boolean): void {
    const { selector } = this.parts
    if (line === -1) {
      if (column === SELECT_COLUMN) this.toggleAll()
    } else if (this.toggleGroup(line)) return
    else if (extending) void selector.extend(line, true)
    else selector.toggle(line)
  }

  /** Opens or closes the group whose head is on the line; false where none is. */
  toggleGroup(line: number): boolean {
    const head = this.parts.lines().line(line)
    if (head?.kind !== 'head') return false
    this.parts.model.toggleGroup(head.value)
    return true
  }

  /** Opens the card of a header's column, or what can be asked from a cell. */
  openMenu(line: number, column: string): boolean {
    const { asking, screen } = this.parts
    if (column === SELECT_COLUMN) return false
    if (line === -1) {
      asking.toggleCard(column)
      return true
    }
    const lines = this.parts.lines()
    const shown = lines.line(line)
    const anchor = screen.cellElement(line, column)
    if (shown?.kind !== 'row' || !anchor) return false
    asking.openCellMenu(shown.row, column, lines.value(line, shown.row, column) ?? null, anchor)
    return true
  }

  /** Tells whoever listens that a reader asks why a row is there. */
  async askWhy(row: RowId): Promise<void> {
    const { model, emitter } = this.parts
    const rows = { kind: 'list' as const, rows: [row] }
    const [key] = (await model.ask('keysOf', { keyFields: model.keyFields, rows })) ?? []
    if (key !== undefined) emitter.emit('why', { row, key })
  }

  private clicked(event: MouseEvent): void {
    const target = event.target as Element
    const place = this.placeOf(target)
    if (!place) return
    const { asking, actions, selector } = this.parts
    const { line, column } = place
    const button = target.closest<HTMLElement>('button.act')
    const shown = this.parts.lines().line(line)
    if (button && shown?.kind === 'row') void actions.run(shown.row, column, button.dataset.action!)
    // What is pressed in a cell does its own work; the row's selection stays.
    if (button || target.closest('a[href]')) return
    const box = column === SELECT_COLUMN
    if (line === -1 && target.closest('.more-of')) return void asking.toggleCard(column)
    const adding = event.ctrlKey || event.metaKey
    if (line === -1) this.head(column, event.shiftKey)
    else if (this.toggleGroup(line)) return
    else if (event.shiftKey) void selector.extend(line, box || adding)
    else if (box || adding) selector.toggle(line)
    else selector.only(line)
  }

  private head(column: string, adding: boolean): void {
    if (column === SELECT_COLUMN) return this.toggleAll()
    this.parts.model.orderBy(column, adding)
    this.parts.emitter.emit('column', { column })
  }

  private toggleAll(): void {
    const { selector } = this.parts
    void selector.toggleAll(selector.rows.size >= this.parts.passing())
  }

  private copy(event: ClipboardEvent): void {
    const selection = document.getSelection()
    if (selection && !selection.isCollapsed) return
    const { navigator, announcer, texts } = this.parts
    const { line, column } = navigator
    const lines = this.parts.lines()
    const shown = line < 0 || column === SELECT_COLUMN ? undefined : lines.line(line)
    if (!shown) return
    const text =
      shown.kind === 'row'
        ? lines.text(line, shown.row, column)
        : shown.kind === 'detail'
          ? undefined
          : shown.shown
    if (text === undefined) return
    event.clipboardData?.setData('text/plain', text)
    event.preventDefault()
    announcer.say(texts.copied(text))
  }

  private async tellRow({ line, column }: Place): Promise<void> {
    const { model, emitter } = this.parts
    const shown = this.parts.lines().line(line)
    if (shown?.kind !== 'row') return
    const [record] = (await model.ask('records', { rows: [shown.row], binding: model.binding })) ?? []
    if (record) emitter.emit('row', { record, column })
  }
}
