import { textToEdit, type RowRef } from '@vast-meadow/engine/editing'
import type { RowId, Value } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { CellBox, Place } from '../../kernel/feature.ts'
import { asPageLine, type PageLine } from '../../kernel/page-line.ts'
import { CellEditor, type Onward } from './cell-editor.ts'
import { choicesOf } from './choices.ts'
import type { EditActs } from './edit-acts.ts'
import { isNewRow } from './pending-rows.ts'

/** A cell as the reader stands on it. */
interface Standing {
  readonly id: RowId
  readonly page: PageLine
  readonly column: string
}

/** What is known of the cell from when the editor was opened on it: its row may be elsewhere, or another, by the end. */
interface Edit {
  readonly standing: Standing
  readonly ref: RowRef | Promise<RowRef>
  readonly saved: Value
  readonly view: unknown
}

/** One cell is typed into at a time; when it is done with, the keyboard goes on. */
export class CellTyping {
  private readonly acts: EditActs
  private readonly editor: CellEditor
  private readonly follow: () => Promise<void>
  private readonly fill: (boxes: readonly CellBox[], text: string) => Promise<void>
  /** The cell that is edited. */
  private editing: Edit | null = null

  /** `fill`: writes a text into all picked cells; `follow`: looks at what is saved of pending rows by now. */
  constructor(
    acts: EditActs,
    fill: (boxes: readonly CellBox[], text: string) => Promise<void>,
    follow: () => Promise<void>,
  ) {
    this.follow = follow
    this.acts = acts
    this.fill = fill
    const { kernel, texts } = acts
    const { screen, disposal } = kernel
    this.editor = new CellEditor(
      screen.area,
      texts,
      {
        get rtl() {
          return screen.viewport.rtl
        },
        cell: () => this.editedCell(),
        done: (text, onward) => void this.typed(text, onward).catch(kernel.failed),
        cancelled: () => this.endEditing(),
        reveal: () => this.reveal(),
      },
      disposal,
    )
  }

  /** The editor follows its cell. */
  drawn(): void {
    if (this.editor.isOpen) this.editor.place()
  }

  /** Opens the editor on a cell. `text`: what is typed already, in place of what the cell has. False: it cannot be. */
  begin(at: Place, text: string | null = null): boolean {
    const { kernel } = this.acts
    const { line, column } = at
    const hindrance = this.acts.hindrance(at)
    if (hindrance !== null) {
      if (text === null || this.acts.canEditColumn(column))
        kernel.announcer.say(this.acts.texts.cannotEdit[hindrance])
      return false
    }
    const shown = kernel.lines.line(line)
    const field = this.acts.fieldOf(column)
    const edit = this.acts.columnOf(column)?.edit
    if ((shown?.kind !== 'row' && shown?.kind !== 'new') || !field || !edit) return false
    const cell = this.acts.pending.cellOf(shown.row, column)
    const value = this.valueOf(shown.row, line, column)
    kernel.screen.reveal(line, column)
    const standing = { id: shown.row, page: line, column }
    this.editing = {
      standing,
      ref: this.acts.refOnLine(shown.row, line),
      saved: cell ? cell.before : isNewRow(shown.row) ? null : value,
      view: kernel.view,
    }
    const own = kernel.options.parts?.editors?.[`cell:${column}`] ?? null
    const name = kernel.lines.text(line, shown.row, kernel.model.keyFields[0] ?? '') ?? ''
    const choices = choicesOf(kernel, edit, {
      field,
      format: this.acts.formatOf(column),
      value: other => this.valueOf(shown.row, line, other),
      key: this.acts.pending.rowOf(shown.row)?.key ?? null,
    })
    this.editor.open({
      kind: edit.editor ?? (choices ? (field.type === 'tags' ? 'tags' : 'choice') : KINDS[field.type]),
      label: this.acts.texts.editCell(kernel.model.titleOf(column), name),
      text: text ?? cell?.now.text ?? textToEdit(value, field, this.acts.formatOf(column)),
      typed: text !== null,
      numeric: field.type === 'integer' || field.type === 'number',
      choices,
      own,
    })
    return true
  }

  /** What a row has in a column, changes included, as far as it is read. */
  private valueOf(id: RowId, line: PageLine, column: string): Value {
    const cell = this.acts.pending.cellOf(id, column)
    return cell ? cell.now.value : (this.acts.kernel.lines.value(line, id, column) ?? null)
  }

  private editedCell(): HTMLElement | undefined {
    const { editing } = this
    const { kernel } = this.acts
    if (!editing) return undefined
    const { id, page, column } = editing.standing
    const at = kernel.lines.line(page)
    const isThere = (at?.kind === 'row' || at?.kind === 'new') && at.row === id
    return isThere ? kernel.screen.cellElement(page, column) : this.findDrawn(id, column)
  }

  /** The cell of a row that stands on another line by now. */
  private findDrawn(id: RowId, column: string): HTMLElement | undefined {
    const { body } = this.acts.kernel.screen
    for (let line = body.first; line < body.end; line++) {
      const at = this.acts.kernel.lines.line(line)
      if ((at?.kind === 'row' || at?.kind === 'new') && at.row === id)
        return this.acts.kernel.screen.cellElement(asPageLine(line), column)
    }
    return undefined
  }

  private reveal(): void {
    const { editing } = this
    const { kernel } = this.acts
    if (!editing || this.editedCell()) return
    kernel.screen.reveal(editing.standing.page, editing.standing.column)
  }

  private endEditing(): void {
    this.editing = null
    this.acts.kernel.navigator.restore(true)
  }

  /** What was typed is taken, and the keyboard goes on. */
  private async typed(text: string, onward: Onward): Promise<void> {
    const { editing } = this
    const { kernel } = this.acts
    if (!editing) return
    const { standing } = editing
    this.editing = null
    const { column, id } = standing
    const field = this.acts.fieldOf(column)
    const boxes = onward === 'all' ? this.acts.boxes() : null
    this.goOn(standing, onward)
    if (!field) return
    const content = this.acts.contentOf(text, field)
    const title = kernel.model.titleOf(column)
    const said = this.acts.texts.typed(title, content.text ?? kernel.model.showOf(column)(content.value))
    if (boxes) {
      await this.fill(boxes, text)
      return
    }
    const { saved, view } = editing
    const ref = editing.ref instanceof Promise ? await editing.ref : editing.ref
    this.acts.write([{ target: { ref, id, column, saved }, content }], said)
    // Somebody may have changed it while it was typed into.
    if (view !== kernel.view) await this.follow()
  }

  /** The keyboard goes on from a cell that is done with. */
  private goOn({ page, column }: Standing, onward: Onward): void {
    const { navigator, screen, lines } = this.acts.kernel
    const columns = screen.columns.filter(one => !isOwnColumn(one))
    const at = columns.indexOf(column)
    if (onward === 'down' || onward === 'up') {
      const step = onward === 'down' ? 1 : -1
      let line = page + step
      while (line > 0 && line < lines.lineCount - 1 && lines.line(line)?.kind === 'detail') line += step
      navigator.go(asPageLine(Math.max(0, Math.min(line, lines.lineCount - 1))), column)
    } else if (onward === 'next' || onward === 'before') {
      const next = at + (onward === 'next' ? 1 : -1)
      navigator.go(page, columns[Math.max(0, Math.min(next, columns.length - 1))])
    } else if (onward === 'all' || !navigator.hasFocus) {
      navigator.column = column
      navigator.restore(onward === 'all')
    }
  }
}

const KINDS = {
  text: 'text',
  integer: 'number',
  number: 'number',
  boolean: 'truth',
  date: 'date',
  datetime: 'datetime',
  time: 'time',
  tags: 'tags',
} as const
