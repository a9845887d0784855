import type { OrderKey } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import { type Disposal, focusedBeside, keepKey, make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'
import { Popup } from '../../kernel/popup.ts'
import { ConditionEditor, type ConditionEditorHost } from './condition-editor.ts'

export interface ColumnCardHost extends ConditionEditorHost {
  /** The element that the card belongs to: a header, or the bar where its column is not in view. */
  anchorOf(column: string): Element
  /** What else can be set of a column. */
  parts(column: string): readonly HTMLElement[]
  /** Gives the keyboard back to the column's header. */
  leave(column: string): void
}

/**
 * What a column is ordered by and what it asks: opened from its header. It shows the column's one condition, the same
 * that the asking strip and the chips show, and follows it wherever it is changed.
 */
export class ColumnCard {
  readonly element: HTMLElement
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly host: ColumnCardHost
  private readonly popup: Popup
  private open_: {
    readonly column: string
    readonly order: HTMLElement
    readonly parts: HTMLElement
    readonly editor: ConditionEditor | null
  } | null = null

  constructor(frame: HTMLElement, model: GridModel, texts: Texts, host: ColumnCardHost, disposal: Disposal) {
    this.model = model
    this.texts = texts
    this.host = host
    this.element = make('div', 'card', frame)
    this.element.setAttribute('role', 'dialog')
    this.element.setAttribute('part', 'card')
    this.popup = new Popup(this.element, { place: 'under', outside: () => this.close(false) }, disposal)
    disposal.listen(this.element, 'keydown', event => {
      if (event.key === 'Escape') {
        // A dialog around the grid stays.
        event.preventDefault()
        this.close(true)
      }
      keepKey(event)
    })
  }

  /** The column whose card is open; null: none is. */
  get column(): string | null {
    return this.open_?.column ?? null
  }

  toggle(column: string): void {
    if (this.open_?.column === column) this.close(true)
    else this.open(column)
  }

  open(column: string): void {
    const { model, texts, element } = this
    element.replaceChildren()
    element.ariaLabel = texts.cardOf(model.titleOf(column))
    const head = make('div', 'card-head', element)
    make('b', '', head).textContent = model.titleOf(column)
    const close = make('button', 'remove', head)
    close.type = 'button'
    close.textContent = '×'
    close.ariaLabel = texts.close
    close.onclick = () => this.close(true)
    const order = make('div', 'order', element)
    const parts = make('div', 'parts-of-card', element)
    const asks = model.canAsk(column) && model.phraseOf(column) !== null
    const editor = asks ? new ConditionEditor(model, column, texts, this.host) : null
    if (editor) element.append(editor.element)
    this.open_ = { column, order, parts, editor }
    this.update()
    this.popup.show(this.host.anchorOf(column))
    editor?.focus()
    if (!editor) element.querySelector<HTMLElement>('button')?.focus()
    void this.load()
  }

  close(back: boolean): void {
    if (!this.open_) return
    const { column } = this.open_
    this.open_ = null
    this.popup.hide()
    this.element.replaceChildren()
    if (back) this.host.leave(column)
  }

  /** Shows order and condition as they are now. */
  update(): void {
    if (!this.open_) return
    this.fillOrder(this.open_.order, this.open_.column)
    this.fillParts(this.open_.parts, this.open_.column)
    this.open_.editor?.update()
  }

  /** What passes changed: counts are asked for anew. */
  async load(): Promise<void> {
    const open = this.open_
    await open?.editor?.load()
    if (open && this.open_ === open) this.popup.show(this.host.anchorOf(open.column))
  }

  private fillParts(element: HTMLElement, column: string): void {
    const focused = focusedBeside(this.element)?.dataset.control
    element.replaceChildren(...this.host.parts(column))
    if (focused) element.querySelector<HTMLElement>(`[data-control="${CSS.escape(focused)}"]`)?.focus()
  }

  private fillOrder(element: HTMLElement, column: string): void {
    const { model, texts } = this
    const focused = focusedBeside(this.element)?.dataset.order
    element.replaceChildren()
    element.hidden = !model.canOrder(column)
    if (element.hidden) return
    const { order } = model.arrangement
    const now = order.find(key => key.column === column)?.direction
    const others = order.some(key => key.column !== column)
    const choice = (direction: OrderKey['direction'], adding: boolean): void => {
      const button = make('button', 'button', element)
      button.type = 'button'
      button.dataset.order = `${direction} ${adding}`
      button.textContent = `${direction === 'ascending' ? '↑' : '↓'} ${adding ? texts.alsoBy[direction] : texts.orderBy[direction]}`
      button.ariaPressed = String(now === direction && (adding || !others))
      button.onclick = () => {
        const off = button.ariaPressed === 'true'
        model.setDirection(column, off ? null : direction, adding || off)
      }
    }
    choice('ascending', false)
    choice('descending', false)
    if (others && (model.definition?.severalKeys ?? true)) {
      choice('ascending', true)
      choice('descending', true)
    }
    if (focused) element.querySelector<HTMLElement>(`[data-order="${focused}"]`)?.focus()
  }
}
