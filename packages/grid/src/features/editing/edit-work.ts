import {
  readTyped,
  refOf,
  textToEdit,
  type CellContent,
  type PendingCounts,
  type RowRef,
  type Step,
  type TypedRow,
} from '@vast-meadow/engine/editing'
import { asLine, countRows, editableKey, errorOf, NO_LINE } from '@vast-meadow/engine/client'
import type {
  ColumnDefinition,
  Field,
  Format,
  KeyValue,
  LineIndex,
  PackedRows,
  RowId,
  Value,
} from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import { askFirst } from '../../kernel/confirm-view.ts'
import type { CellBox, Place } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { NoticeView, type NoticeOffer } from '../../kernel/notice-view.ts'
import { asPageLine } from '../../kernel/page-line.ts'
import { cellsOfText } from './block-text.ts'
import { CellEditor, type Onward } from './cell-editor.ts'
import { choicesOf } from './choices.ts'
import { editingTexts, type EditingTexts } from '../../kernel/editing-texts.ts'
import { EngineOverlay } from './engine-overlay.ts'
import { isNewRow, PendingRows } from './pending-rows.ts'
import { PendingView } from './pending-view.ts'
import { RowChecks } from './row-checks.ts'
import { saveRows } from './saving.ts'
import { rowsInBoxes, rowsOnLines, type TargetRow } from './target-cells.ts'

/** Why a cell cannot be changed. */
export type Hindrance = keyof EditingTexts['cannotEdit']

/** A cell that is to be written to. */
export interface CellTarget {
  readonly ref: RowRef
  readonly id: RowId
  readonly column: string
  /** What is saved there. */
  readonly saved: Value
}

interface Write {
  readonly target: CellTarget
  readonly content: CellContent
}

/** A cell as the reader stands on it. */
interface Standing {
  readonly id: RowId
  readonly line: LineIndex
  readonly page: ReturnType<typeof asPageLine>
  readonly column: string
}

/** Names told in a question. */
const MOST_NAMED = 3
const EMPTY: CellContent = { value: null, text: null }

/** What is done to rows that can be changed: everything that is loaded when the first grid lets them be. */
export class EditWork {
  readonly texts: EditingTexts
  readonly pending: PendingRows
  private readonly kernel: Kernel
  private readonly overlay = new EngineOverlay()
  private readonly checks: RowChecks
  private readonly editor: CellEditor
  private readonly view: PendingView
  private readonly notice: NoticeView
  private readonly kept: (list: unknown) => void
  /** The cell that is edited. */
  private editing: { readonly standing: Standing; readonly ref: Promise<RowRef> } | null = null
  /** The row on which the keyboard is. */
  private stands: { readonly id: RowId; readonly line: LineIndex } | null = null
  private saves: Promise<unknown> = Promise.resolve()
  private source: Kernel['model']['source'] = null
  private following = 0
  private telling: Promise<unknown> = Promise.resolve()

  constructor(kernel: Kernel, kept: (list: unknown) => void) {
    this.kernel = kernel
    this.kept = kept
    this.texts = { ...editingTexts, ...kernel.texts.editing }
    const { model, screen, texts, foot, disposal } = kernel
    this.pending = new PendingRows(this.texts, column => model.showOf(column))
    this.checks = new RowChecks(model, this.pending, kernel.options.parts?.checks ?? {}, () => this.shown())
    this.editor = new CellEditor(
      screen.area,
      this.texts,
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
    this.notice = new NoticeView(texts, disposal)
    foot.addAtEnd(this.notice.element)
    this.view = new PendingView(kernel, this.pending, this.texts, {
      save: () => void this.save().catch(kernel.failed),
      discard: () => void this.askToDiscard().catch(kernel.failed),
      takeBack: (name, field) => this.takeBack(name, field),
      settle: (name, field, keep) => this.settle(name, field, keep),
      goTo: name => void this.goTo(name).catch(kernel.failed),
    })
    disposal.listen(screen.viewport.view, 'paste', event => this.paste(event))
    disposal.listen(screen.viewport.view, 'focusin', () => this.moved())
    const leaving = (event: Event): void => {
      if (!this.pending.typed.isEmpty && model.definition?.editing.leaving) event.preventDefault()
    }
    const page = kernel.root.ownerDocument.defaultView
    page?.addEventListener('beforeunload', leaving)
    disposal.add(() => page?.removeEventListener('beforeunload', leaving))
  }

  get counts(): PendingCounts {
    return this.pending.typed.counts()
  }

  // ── What can be changed ─────────────────────────────────────────────────────────────────────────────────────

  private columnOf(column: string): ColumnDefinition | undefined {
    return this.kernel.model.columnOf(column)
  }

  private fieldOf(column: string): Field | undefined {
    return this.kernel.model.fieldOf(column)
  }

  private formatOf(column: string): Format {
    return this.checks.formatOf(column)
  }

  /** Whether cells of a column can be changed at all. */
  canEditColumn(column: string): boolean {
    const field = this.fieldOf(column)
    return this.columnOf(column)?.edit !== undefined && field !== undefined && !field.computed
  }

  /** Why a cell on a line cannot be changed; null: it can. */
  hindrance({ line, column }: Place): Hindrance | null {
    const { lines } = this.kernel
    const shown = line >= 0 ? lines.line(line) : undefined
    if (shown?.kind !== 'row' && shown?.kind !== 'new') return 'group'
    if (!this.canEditColumn(column)) return 'column'
    const row = this.pending.rowOf(shown.row)
    if (row?.removed) return 'removed'
    if (row?.state === 'saving') return 'saving'
    const asksRow = this.columnOf(column)?.edit?.when !== undefined && shown.kind === 'row'
    return asksRow && lines.value(line, shown.row, editableKey(column)) !== true ? 'row' : null
  }

  // ── Typing into a cell ──────────────────────────────────────────────────────────────────────────────────────

  /** Opens the editor on a cell. `text`: what is typed already, in place of what the cell has. False: it cannot be. */
  begin(at: Place, text: string | null = null): boolean {
    const { kernel } = this
    const { line, column } = at
    const hindrance = this.hindrance(at)
    if (hindrance !== null) {
      if (text === null || this.canEditColumn(column)) kernel.announcer.say(this.texts.cannotEdit[hindrance])
      return false
    }
    const shown = kernel.lines.line(line)
    const field = this.fieldOf(column)
    const edit = this.columnOf(column)?.edit
    if ((shown?.kind !== 'row' && shown?.kind !== 'new') || !field || !edit) return false
    const cell = this.pending.cellOf(shown.row, column)
    const value = cell ? cell.now.value : (kernel.lines.value(line, shown.row, column) ?? null)
    kernel.screen.reveal(line, column)
    const standing = { id: shown.row, line: kernel.pager.ofView(line), page: line, column }
    this.editing = { standing, ref: this.refOf(shown.row) }
    const own = kernel.options.parts?.editors?.[`cell:${column}`] ?? null
    const name = kernel.lines.text(line, shown.row, kernel.model.keyFields[0] ?? '') ?? ''
    const choices = choicesOf(kernel, edit, field, this.formatOf(column))
    this.editor.open({
      kind: edit.editor ?? (choices ? (field.type === 'tags' ? 'tags' : 'choice') : KINDS[field.type]),
      label: this.texts.editCell(kernel.model.titleOf(column), name),
      text: text ?? cell?.now.text ?? textToEdit(value, field, this.formatOf(column)),
      typed: text !== null,
      numeric: field.type === 'integer' || field.type === 'number',
      choices,
      own,
    })
    return true
  }

  private editedCell(): HTMLElement | undefined {
    const { kernel, editing } = this
    if (!editing) return undefined
    const { id, page, column } = editing.standing
    const at = kernel.lines.line(page)
    const isThere = (at?.kind === 'row' || at?.kind === 'new') && at.row === id
    return isThere ? kernel.screen.cellElement(page, column) : this.findDrawn(id, column)
  }

  /** The cell of a row that stands on another line by now. */
  private findDrawn(id: RowId, column: string): HTMLElement | undefined {
    const { body } = this.kernel.screen
    for (let line = body.first; line < body.end; line++) {
      const at = this.kernel.lines.line(line)
      if ((at?.kind === 'row' || at?.kind === 'new') && at.row === id)
        return this.kernel.screen.cellElement(asPageLine(line), column)
    }
    return undefined
  }

  private reveal(): void {
    const { editing, kernel } = this
    if (!editing || this.editedCell()) return
    kernel.screen.reveal(editing.standing.page, editing.standing.column)
  }

  private endEditing(): void {
    this.editing = null
    this.kernel.navigator.restore(true)
  }

  /** What was typed is taken, and the keyboard goes on. */
  private async typed(text: string, onward: Onward): Promise<void> {
    const { editing, kernel } = this
    if (!editing) return
    const { standing } = editing
    this.editing = null
    const { column, id } = standing
    const field = this.fieldOf(column)
    const boxes = onward === 'all' ? this.boxes() : null
    this.goOn(standing, onward)
    if (!field) return
    const content = this.contentOf(text, field)
    const title = kernel.model.titleOf(column)
    const said = this.texts.typed(title, content.text ?? kernel.model.showOf(column)(content.value))
    if (boxes) {
      await this.fill(boxes, () => text)
      return
    }
    const ref = await editing.ref
    const saved = this.savedAt(id, column, standing.page)
    this.write([{ target: { ref, id, column, saved }, content }], said)
  }

  /** What a text comes to in a column: a value, or the text itself where it says none. */
  private contentOf(text: string, field: Field): CellContent {
    const read = readTyped(text, field, this.formatOf(field.key))
    return read.ok ? { value: read.value, text: null } : { value: null, text }
  }

  /** What is saved in a cell that is drawn. */
  private savedAt(id: RowId, column: string, line: Standing['page']): Value {
    const cell = this.pending.cellOf(id, column)
    if (cell) return cell.before
    return isNewRow(id) ? null : (this.kernel.lines.value(line, id, column) ?? null)
  }

  /** The keyboard goes on from a cell that is done with. */
  private goOn({ page, column }: Standing, onward: Onward): void {
    const { navigator, screen, lines } = this.kernel
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

  // ── Acts ────────────────────────────────────────────────────────────────────────────────────────────────────

  /** What names a row that is there, or is new. */
  private async refOf(id: RowId): Promise<RowRef> {
    return (await this.refsOf([id]))[0]
  }

  private async refsOf(ids: readonly RowId[]): Promise<RowRef[]> {
    const { model } = this.kernel
    const unknown = ids.filter(id => this.pending.nameOf(id) === undefined)
    const keys =
      unknown.length > 0
        ? ((await model.ask('keysOf', {
            keyFields: model.keyFields,
            rows: { kind: 'list', rows: unknown },
          })) ?? [])
        : []
    const refs = new Map(unknown.map((id, nth) => [id, refOf(keys[nth] ?? null)]))
    return ids.map(id => {
      const name = this.pending.nameOf(id)
      return name === undefined
        ? (refs.get(id) ?? refOf(null))
        : { name, key: this.pending.typed.row(name)?.key ?? keyIn(name) }
    })
  }

  /** Writes into cells, as one act. */
  private write(writes: readonly Write[], said: string): void {
    const steps: Step[] = []
    for (const { target, content } of writes) {
      if (!isNewRow(target.id)) this.pending.bind(target.ref.name, target.id)
      const step = this.pending.typed.write(target.ref, target.column, target.saved, content)
      if (step) steps.push(step)
    }
    this.acted(steps, said)
  }

  /** Something was done: it can be taken back, is checked, seen and saved as the definition says. */
  private acted(steps: readonly Step[], said: string): void {
    if (steps.length === 0) return
    this.kernel.features.all(feature =>
      feature.noteAct?.({
        said,
        undo: () => this.retrace(steps, 'back'),
        redo: () => this.retrace(steps, 'again'),
      }),
    )
    this.after(steps)
  }

  private after(steps: readonly Step[]): void {
    const names = new Set(steps.map(({ row }) => row.name))
    const rows = [...names].flatMap(name => this.pending.typed.row(name) ?? [])
    this.checks.check(rows)
    if (steps.some(({ kind }) => kind === 'new')) this.besideDiffers()
    this.shown()
    this.tell()
    if (this.kernel.model.definition?.editing.save === 'cell')
      void this.save([...names]).catch(this.kernel.failed)
  }

  private async retrace(steps: readonly Step[], way: 'back' | 'again'): Promise<boolean> {
    const cells = steps.flatMap(step => (step.kind === 'cell' && step.row.key !== null ? [step] : []))
    const keys = new Map(cells.map(({ row }) => [row.name, row.key]))
    const columns = [...new Set(cells.map(({ field }) => field))]
    const { model } = this.kernel
    const saved =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys: [...keys.values()], columns })) ?? []
    const byName = new Map([...keys.keys()].map((name, nth) => [name, saved[nth] ?? null]))
    for (const [name, row] of byName) if (row) this.pending.bind(name, row.id)
    const made = this.pending.typed.retrace(
      steps,
      way,
      (row, field) => byName.get(row.name)?.values[columns.indexOf(field)] ?? null,
    )
    this.after(made)
    const first = made.find(step => step.kind === 'cell')
    if (first) await this.goTo(first.row.name, first.field)
    return made.length > 0
  }

  private boxes(): readonly CellBox[] | null {
    return (
      this.kernel.features.all(feature => feature.cellBoxes?.() ?? null).find(boxes => boxes !== null) ?? null
    )
  }

  /** The cells of rectangles that can be changed; of the rest, how many there are. */
  private async writesIn(
    boxes: readonly CellBox[],
    textOf: (row: TargetRow, column: string) => string | null,
  ): Promise<{ writes: Write[]; left: number }> {
    const targets = await rowsInBoxes(this.kernel, boxes)
    const refs = await this.refsOf(targets.map(({ row }) => row.id))
    const may = await this.mayEdit(targets.map(({ row }) => row.id))
    const writes: Write[] = []
    let left = 0
    for (const [nth, { row, columns }] of targets.entries())
      for (const column of columns) {
        const field = this.fieldOf(column)
        const text = textOf(row, column)
        if (text === null) continue
        if (!field || !may(row.id, column)) left++
        else
          writes.push({ target: this.targetOf(refs[nth], row, column), content: this.contentOf(text, field) })
      }
    return { writes, left }
  }

  private targetOf(ref: RowRef, row: TargetRow, column: string): CellTarget {
    const saved = this.pending.typed.cell(ref.name, column)?.before ?? row.values.get(column) ?? null
    return { ref, id: row.id, column, saved }
  }

  /** Says of rows whether a column can be changed there, by the expressions of the columns. */
  private async mayEdit(ids: readonly RowId[]): Promise<(id: RowId, column: string) => boolean> {
    const { model } = this.kernel
    const asking = (model.definition?.columns ?? []).filter(({ edit }) => edit?.when !== undefined)
    const there = ids.filter(id => !isNewRow(id))
    const columns = asking.map(({ key }) => editableKey(key))
    const cells =
      asking.length > 0 && there.length > 0
        ? await model.ask('rowCells', { rows: there, columns, binding: model.binding })
        : undefined
    const rowAt = new Map(there.map((id, nth) => [id, nth]))
    return (id, column) => {
      if (!this.canEditColumn(column)) return false
      const row = this.pending.rowOf(id)
      if (row && (row.removed || row.state === 'saving')) return false
      const at = columns.indexOf(editableKey(column))
      const nth = rowAt.get(id)
      return at < 0 || nth === undefined || cells?.values[nth * columns.length + at] === true
    }
  }

  private async fill(
    boxes: readonly CellBox[],
    textOf: (row: TargetRow, column: string) => string | null,
  ): Promise<void> {
    const { writes, left } = await this.writesIn(boxes, textOf)
    this.write(writes, this.texts.filled(this.kernel.format(writes.length)))
    this.tellWritten(this.texts.filled, writes.length, left)
  }

  private tellWritten(words: (count: string) => string, done: number, left: number): void {
    const { format, announcer } = this.kernel
    const said = left > 0 ? this.texts.pastedSome(format(done), format(left)) : words(format(done))
    announcer.say(said)
    if (left > 0) this.notice.show(said, [], false)
  }

  /** Empties the picked cells, or that of the keyboard. */
  async clear(at: Place): Promise<void> {
    const boxes = this.boxes() ?? this.boxOf(at)
    if (boxes.length === 0) {
      const shown = at.line >= 0 ? this.kernel.lines.line(at.line) : undefined
      if (shown?.kind !== 'new' || this.hindrance(at) !== null) return
      const ref = await this.refOf(shown.row)
      this.write(
        [{ target: { ref, id: shown.row, column: at.column, saved: null }, content: EMPTY }],
        this.texts.cleared('1'),
      )
      return
    }
    const { writes, left } = await this.writesIn(boxes, () => '')
    this.write(writes, this.texts.cleared(this.kernel.format(writes.length)))
    this.tellWritten(this.texts.cleared, writes.length, left)
  }

  /** The cell of a place as a rectangle; none where it is no row of the view. */
  private boxOf({ line, column }: Place): CellBox[] {
    const from = this.kernel.pager.ofView(line)
    return from < 0 || isOwnColumn(column) ? [] : [{ from, to: asLine(from + 1), columns: [column] }]
  }

  /** What the first row of a rectangle has goes into its other rows. */
  async fillDown(): Promise<void> {
    const boxes = (this.boxes() ?? []).filter(({ from, to }) => to - from > 1)
    const firsts = await Promise.all(
      boxes.map(async ({ from, columns }) =>
        (await rowsOnLines(this.kernel, from, asLine(from + 1), columns)).at(0),
      ),
    )
    const texts = new Map<string, string>()
    for (const first of firsts)
      for (const [column, value] of first?.values ?? []) texts.set(column, this.editText(column, value))
    const rest = boxes.map(box => ({ ...box, from: asLine(box.from + 1) }))
    await this.fill(rest, (_, column) => texts.get(column) ?? null)
  }

  private editText(column: string, value: Value): string {
    const field = this.fieldOf(column)
    return field ? textToEdit(value, field, this.formatOf(column)) : ''
  }

  /** The value of one cell goes into the same column of all selected rows. */
  async fillSelected(column: string, value: Value): Promise<void> {
    const { features, model } = this.kernel
    const packed = features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    const field = this.fieldOf(column)
    if (!packed || !field) return
    const keys =
      (await model.ask('keysOf', { keyFields: model.keyFields, rows: { kind: 'set', ...packed } })) ?? []
    const saved =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys, columns: [column] })) ?? []
    const there = saved.flatMap((row, nth) => (row ? [{ row, key: keys[nth] }] : []))
    const may = await this.mayEdit(there.map(({ row }) => row.id))
    const writes = there.flatMap(({ row, key }): Write[] =>
      may(row.id, column)
        ? [
            {
              target: { ref: refOf(key), id: row.id, column, saved: row.values[0] },
              content: { value, text: null },
            },
          ]
        : [],
    )
    this.write(writes, this.texts.filled(this.kernel.format(writes.length)))
    this.tellWritten(this.texts.filled, writes.length, there.length - writes.length)
  }

  // ── Pasting ─────────────────────────────────────────────────────────────────────────────────────────────────

  private paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const { navigator } = this.kernel
    if (text === '' || navigator.line < 0) return
    event.preventDefault()
    void this.pasteText(text, navigator).catch(this.kernel.failed)
  }

  /** Writes a block of cells from a cell on; one cell alone goes into all that are picked. */
  async pasteText(text: string, at: Place): Promise<void> {
    const { kernel, texts } = this
    const block = cellsOfText(text)
    const boxes = this.boxes()
    if (block.length === 1 && block[0].length === 1 && boxes) {
      await this.fill(boxes, () => block[0][0])
      return
    }
    const order = kernel.screen.columns.filter(column => !isOwnColumn(column))
    const start = boxes?.at(-1) ?? this.boxOf(at).at(0)
    if (!start) {
      await this.pasteIntoNew(block, at)
      return
    }
    const first = Math.max(0, order.indexOf(start.columns[0]))
    const width = block.reduce((most, row) => Math.max(most, row.length), 0)
    const columns = order.slice(first, first + width)
    const last = asLine(Math.min(kernel.view?.lines.lineCount ?? 0, start.from + block.length))
    const rows = await this.rowsFrom(start.from, last, block.length, columns)
    const refs = await this.refsOf(rows.map(({ id }) => id))
    const may = await this.mayEdit(rows.map(({ id }) => id))
    const writes: Write[] = []
    let left = 0
    for (const [nth, row] of rows.entries())
      for (const [i, column] of columns.entries()) {
        const field = this.fieldOf(column)
        const cell = block[nth].at(i)
        if (cell === undefined) continue
        if (!field || !may(row.id, column)) left++
        else
          writes.push({ target: this.targetOf(refs[nth], row, column), content: this.contentOf(cell, field) })
      }
    this.write(writes, texts.pasted(kernel.format(writes.length)))
    this.tellWritten(texts.pasted, writes.length, left)
    const more = block.slice(rows.length)
    if (more.length > 0 && this.mayAdd)
      this.notice.show(
        texts.moreRows(kernel.format(more.length)),
        [{ text: texts.addThem, act: () => this.addBlock(more, columns) }],
        false,
      )
  }

  /** So many rows from a line on, heads of groups passed over. */
  private async rowsFrom(
    from: LineIndex,
    to: LineIndex,
    wanted: number,
    columns: readonly string[],
  ): Promise<TargetRow[]> {
    const rows = await rowsOnLines(this.kernel, from, to, columns)
    const end = this.kernel.view?.lines.lineCount ?? 0
    for (let next: number = to; rows.length < wanted && next < end;) {
      const until = Math.min(end, next + wanted - rows.length)
      rows.push(...(await rowsOnLines(this.kernel, asLine(next), asLine(until), columns)))
      next = until
    }
    return rows.slice(0, wanted)
  }

  private async pasteIntoNew(block: readonly (readonly string[])[], at: Place): Promise<void> {
    const shown = this.kernel.lines.line(at.line)
    if (shown?.kind !== 'new') return
    const order = this.kernel.screen.columns.filter(column => !isOwnColumn(column))
    const columns = order.slice(Math.max(0, order.indexOf(at.column)))
    const ids = this.pending.rows.slice(this.pending.rows.indexOf(shown.row))
    const refs = await this.refsOf(ids)
    const writes = refs.slice(0, block.length).flatMap((ref, nth) =>
      block[nth].flatMap((text, i): Write[] => {
        const field = i < columns.length ? this.fieldOf(columns[i]) : undefined
        if (!field || !this.canEditColumn(field.key)) return []
        return [
          {
            target: { ref, id: ids[nth], column: field.key, saved: null },
            content: this.contentOf(text, field),
          },
        ]
      }),
    )
    this.write(writes, this.texts.pasted(this.kernel.format(writes.length)))
    const more = block.slice(ids.length)
    if (more.length > 0) this.addBlock(more, columns)
  }

  private addBlock(block: readonly (readonly string[])[], columns: readonly string[]): void {
    const steps: Step[] = []
    for (const cells of block) {
      const step = this.pending.typed.add(this.startValues())
      steps.push(step)
      for (const [i, text] of cells.entries()) {
        const field = i < columns.length ? this.fieldOf(columns[i]) : undefined
        if (!field || !this.canEditColumn(field.key)) continue
        const written = this.pending.typed.write(step.row, field.key, null, this.contentOf(text, field))
        if (written) steps.push(written)
      }
    }
    this.acted(steps, this.texts.added)
  }

  // ── New rows and deletions ──────────────────────────────────────────────────────────────────────────────────

  get mayAdd(): boolean {
    return (
      this.kernel.model.definition?.editing.newRows !== undefined && this.kernel.model.keyFields.length > 0
    )
  }

  get mayRemove(): boolean {
    return (this.kernel.model.definition?.editing.remove ?? false) && this.kernel.model.keyFields.length > 0
  }

  /** What a new row begins with. */
  private startValues(): Map<string, Value> {
    const values = new Map<string, Value>()
    for (const { key, edit } of this.kernel.model.definition?.columns ?? []) {
      const field = this.fieldOf(key)
      if (edit?.start === undefined || edit.start === null || !field) continue
      const { value, text } = this.contentOf(String(edit.start), field)
      if (text === null && value !== null) values.set(key, value)
    }
    return values
  }

  /** A new row, with what the definition and `values` say; the keyboard goes to it. Answers its name. */
  addRow(values: ReadonlyMap<string, Value> = new Map()): string {
    const step = this.pending.typed.add(new Map([...this.startValues(), ...this.groupValues(), ...values]))
    this.acted([step], this.texts.added)
    void this.goTo(step.row.name).catch(this.kernel.failed)
    return step.row.name
  }

  /** A new row from code: texts are read as columns write their values. */
  async addFromCode(given: Readonly<Record<string, unknown>>): Promise<string> {
    const step = this.pending.typed.add(this.startValues())
    const steps: Step[] = [step]
    for (const [column, value] of Object.entries(given)) {
      const field = this.fieldOf(column)
      if (!field) throw new RangeError(`There is no column "${column}".`)
      const text =
        value === null || value === undefined ? '' : Array.isArray(value) ? value.join(', ') : String(value)
      const written = this.pending.typed.write(step.row, column, null, this.contentOf(text, field))
      if (written) steps.push(written)
    }
    this.acted(steps, this.texts.added)
    await this.checks.settled()
    return step.row.name
  }

  countOf(ticked: PackedRows | null): number {
    return ticked ? countRows({ kind: 'set', ...ticked }) : 0
  }

  /** In the group that the keyboard is in, its value. */
  private groupValues(): Map<string, Value> {
    const { navigator, lines, model } = this.kernel
    const values = new Map<string, Value>()
    if (navigator.line < 0) return values
    for (const head of lines.groupsAt?.(navigator.line) ?? []) {
      const level = model.arrangement.groups.at(head.level)
      if (level?.bucket.by === 'value' && this.canEditColumn(head.column)) values.set(head.column, head.value)
    }
    return values
  }

  /** A new row with what another has, but for its key. */
  async copyRow(id: RowId): Promise<void> {
    const { model } = this.kernel
    const columns = (model.definition?.columns ?? [])
      .map(({ key }) => key)
      .filter(key => this.canEditColumn(key))
    const shown =
      isNewRow(id) ? undefined : await model.ask('rowCells', { rows: [id], columns, binding: model.binding })
    const values = new Map(
      columns.flatMap((column, nth): [string, Value][] => {
        const unique = model.keyFields.includes(column) || this.columnOf(column)?.edit?.unique
        const cell = this.pending.cellOf(id, column)
        const value = cell ? cell.now.value : (shown?.values[nth] ?? null)
        return unique || value === null ? [] : [[column, value]]
      }),
    )
    this.addRow(values)
  }

  /** Marks rows to be deleted, once the reader and the host agree; new ones go at once. */
  async removeRows(ids: readonly RowId[], asks = true): Promise<void> {
    const { kernel, texts } = this
    const refs = await this.refsOf(ids)
    const keys = refs.flatMap(({ key }) => (key === null ? [] : [key]))
    if (keys.length > 0 && !((await kernel.allow.delete?.({ keys })) ?? true)) return
    if (asks) {
      const names = refs.slice(0, MOST_NAMED).map(ref => this.nameOf(ref))
      const question = texts.askDelete(names.join(', '), Math.max(0, refs.length - MOST_NAMED))
      if (!(await askFirst(kernel.frame, kernel.texts, question, texts.delete))) return
    }
    const steps = refs.flatMap((ref, nth) => {
      if (!isNewRow(ids[nth])) this.pending.bind(ref.name, ids[nth])
      return this.pending.typed.remove(ref) ?? []
    })
    this.acted(steps, texts.deleted(kernel.format(steps.length)))
  }

  async removeSelected(): Promise<void> {
    const packed = this.kernel.features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    if (!packed) return
    const { model } = this.kernel
    const keys =
      (await model.ask('keysOf', { keyFields: model.keyFields, rows: { kind: 'set', ...packed } })) ?? []
    const found = (await model.ask('findRows', { keyFields: model.keyFields, keys })) ?? []
    await this.removeRows(found.filter(id => id !== null))
  }

  keepRow(id: RowId): void {
    const name = this.pending.nameOf(id)
    const row = name === undefined ? undefined : this.pending.typed.row(name)
    const step = row && this.pending.typed.remove(row, false)
    if (step) this.acted([step], this.texts.keepRow)
  }

  nameOf({ key, name }: RowRef): string {
    if (key === null) {
      const row = this.pending.typed.row(name)
      const first = row && [...row.cells.values()].find(({ now }) => now.value !== null)
      return first ? `${this.texts.newRowNamed} ${first.now.value}` : this.texts.newRowNamed
    }
    return Array.isArray(key) ? (key as readonly Value[]).join(', ') : String(key as Value)
  }

  // ── Taking back, settling ───────────────────────────────────────────────────────────────────────────────────

  /** Takes back a row, or one cell of it, as an act. */
  takeBack(name: string, field: string | null = null): void {
    const { typed } = this.pending
    const row = typed.row(name)
    if (!row || row.state === 'saving') return
    const steps: Step[] = []
    if (field === null && (row.isNew || row.removed)) {
      const step = typed.remove(row, row.isNew)
      if (step) steps.push(step)
    }
    if (!row.isNew)
      for (const [column, cell] of row.cells) {
        if (field !== null && field !== column) continue
        const step = typed.write(row, column, cell.before, { value: cell.before, text: null })
        if (step) steps.push(step)
      }
    // Nothing else holds what is in conflict with a row that is gone.
    if (typed.row(name)?.gone) typed.forget(name)
    this.acted(steps, this.texts.takeBack)
    if (steps.length === 0) this.refreshed()
  }

  /** Takes back everything, as one act. */
  discardAll(): void {
    const { typed } = this.pending
    const steps: Step[] = []
    for (const row of typed.list()) {
      if (row.state === 'saving') continue
      if (row.isNew || row.removed) {
        const step = typed.remove(row, row.isNew)
        if (step) steps.push(step)
      }
      if (row.isNew) continue
      for (const [column, cell] of row.cells) {
        const step = typed.write(row, column, cell.before, { value: cell.before, text: null })
        if (step) steps.push(step)
      }
      typed.forget(row.name)
    }
    this.acted(steps, this.texts.discard)
  }

  private async askToDiscard(): Promise<void> {
    const { changed, added, removed } = this.counts
    const question = this.texts.askDiscard(this.kernel.format(changed + added + removed))
    if (await askFirst(this.kernel.frame, this.kernel.texts, question, this.texts.discard)) this.discardAll()
  }

  settle(name: string, field: string | null, keep: 'mine' | 'theirs'): void {
    const { typed } = this.pending
    const row = typed.row(name)
    if (!row) return
    if (row.gone && keep === 'theirs') typed.forget(name)
    for (const [column, cell] of row.cells)
      if (cell.theirs !== undefined && (field === null || field === column)) typed.settle(name, column, keep)
    this.checks.check([typed.row(name)].filter(one => one !== undefined))
    this.refreshed()
  }

  /** Something differs that is no act. */
  private refreshed(): void {
    this.besideDiffers()
    this.shown()
    this.tell()
  }

  // ── Seen by the flow ────────────────────────────────────────────────────────────────────────────────────────

  /** What is drawn shows what is pending; the host and what is kept know of it. */
  private shown(): void {
    const { kernel, pending } = this
    kernel.edits = pending.typed.isEmpty ? null : pending
    kernel.screen.body.refresh()
    this.view.show()
    this.kept(pending.typed.isEmpty ? null : pending.typed.toList(column => this.fieldOf(column)))
    kernel.emitter.emit('pending', pending.typed.counts())
  }

  private besideDiffers(): void {
    const { kernel, pending } = this
    pending.at = kernel.model.definition?.editing.newRows ?? 'head'
    const had = kernel.beside !== null
    const has = pending.typed.newRows().length > 0
    kernel.beside = has ? pending : null
    if (had || has) kernel.besideDiffers()
  }

  /** The engine comes to see what is pending, but for the row that the reader is on where it would move. */
  private tell(): void {
    const { model } = this.kernel
    if (!model.definition?.editing.seen || model.description?.can.commit !== true) return
    const standing = this.stands ? this.pending.rowOf(this.stands.id) : undefined
    const held = standing && this.moves(standing) ? standing.name : null
    const rows = this.pending.typed.list()
    const changes = this.overlay.changesFor(rows, held, model.keyFields, column => this.fieldOf(column))
    if (!changes) return
    this.telling = this.telling
      .then(() => this.kernel.changes.commit(changes))
      .catch((error: unknown) => this.kernel.failed(error))
  }

  /** Whether what was changed in a row decides where it stands, or whether it passes. */
  private moves(row: TypedRow): boolean {
    const { order, conditions, search, groups, where } = this.kernel.model.arrangement
    const computed = new Set(
      (this.kernel.model.definition?.columns ?? []).filter(one => one.expression).map(({ key }) => key),
    )
    const deciding = new Set([
      ...order.map(({ column }) => column),
      ...groups.map(({ column }) => column),
      ...Object.keys(conditions),
    ])
    if (where !== '' || search !== '' || [...deciding].some(column => computed.has(column))) return true
    const ordersOtherwise = order.some(({ column }) => this.columnOf(column)?.order.by === 'expression')
    return ordersOtherwise || [...row.cells.keys()].some(column => deciding.has(column))
  }

  /** The keyboard is on another row: the one before goes where it belongs, and is saved where rows are. */
  moved(): void {
    const { navigator, lines, pager, model } = this.kernel
    const at = navigator.line >= 0 ? lines.line(navigator.line) : undefined
    const id = at?.kind === 'row' || at?.kind === 'new' ? at.row : null
    const before = this.stands
    if (id === (before?.id ?? null)) return
    this.stands = id === null ? null : { id, line: pager.ofView(navigator.line) }
    if (!before) return
    const left = this.pending.rowOf(before.id)
    if (!left) return
    this.tell()
    if (!left.isNew && this.moves(left)) void this.tellWhere(before).catch(this.kernel.failed)
    if (model.definition?.editing.save === 'row') void this.save([left.name]).catch(this.kernel.failed)
  }

  /** Says where a row went that was left. */
  private async tellWhere({ id, line }: { readonly id: RowId; readonly line: LineIndex }): Promise<void> {
    const { kernel, texts } = this
    if (!kernel.model.definition?.editing.seen) return
    await this.telling
    await kernel.settled()
    const { view } = kernel
    if (!view) return
    const [now = NO_LINE] = (await kernel.model.ask('linesOf', { view: view.id, rows: [id] })) ?? []
    if (now === line) return
    const said = now < 0 ? texts.rowHeldBack : texts.rowWentTo(kernel.format(now + 1))
    const offers: NoticeOffer[] =
      now < 0 ? [] : [{ text: texts.goThere, act: () => void kernel.goToRow(id).catch(kernel.failed) }]
    this.notice.show(said, offers, false)
    kernel.announcer.say(said)
  }

  // ── Saving ──────────────────────────────────────────────────────────────────────────────────────────────────

  /** Saves rows, or all that can be; one save at a time. Resolves when it is answered. */
  save(names: readonly string[] | null = null): Promise<void> {
    const mine = this.saves.then(() => this.saveNow(names))
    this.saves = mine.catch(() => {})
    return mine
  }

  private async saveNow(names: readonly string[] | null): Promise<void> {
    const { kernel, texts, pending } = this
    const { typed } = pending
    const wanted = (row: TypedRow): boolean => names === null || names.includes(row.name)
    this.checks.check(
      typed.list().filter(row => wanted(row) && !row.removed),
      true,
    )
    await this.checks.settled()
    const rows = typed.savable().filter(wanted)
    if (rows.length === 0) {
      const { notValid } = typed.counts()
      this.shown()
      if (names === null)
        kernel.announcer.say(notValid > 0 ? texts.nothingRight(kernel.format(notValid)) : texts.nothingToSave)
      return
    }
    this.view.saving = true
    this.shown()
    const saved = await saveRows(kernel, pending, this.overlay, rows, texts)
    this.view.saving = false
    this.refreshed()
    this.tellSaved(saved, names)
  }

  private tellSaved(
    { saved, refused, conflicts, failed }: Awaited<ReturnType<typeof saveRows>>,
    names: readonly string[] | null,
  ): void {
    const { kernel, texts } = this
    const again = [{ text: kernel.texts.tryAgain, act: () => void this.save(names).catch(kernel.failed) }]
    const left = refused + conflicts
    const said =
      failed !== null
        ? texts.notSaved(failed)
        : left > 0
          ? texts.savedSome(kernel.format(saved), kernel.format(left))
          : texts.saved(kernel.format(saved))
    kernel.announcer.say(said)
    if (left > 0 || failed !== null) this.notice.show(said, failed === null ? [] : again, true)
    else if (names === null) this.notice.show(said, [], false)
  }

  // ── Rows change underneath ──────────────────────────────────────────────────────────────────────────────────

  /** Another view is shown: rows may be others, or have other values saved. */
  async followRows(): Promise<void> {
    const { kernel, pending } = this
    const { typed } = pending
    const { model } = kernel
    if (this.source !== model.source) {
      this.source = model.source
      pending.unbindSaved()
      this.overlay.clear()
    }
    this.moved()
    const rows = typed.list().filter(({ key, isNew }) => key !== null && !isNew)
    if (rows.length === 0 || !model.canTell('savedCells')) return
    const mine = ++this.following
    const columns = [...new Set(rows.flatMap(({ cells }) => [...cells.keys()]))]
    const keys = rows.map(({ key }) => key)
    const saved = (await model.ask('savedCells', { keyFields: model.keyFields, keys, columns })) ?? []
    if (mine !== this.following) return
    const conflicts = typed.counts().conflicts
    for (const [nth, { name, cells, state }] of rows.entries()) {
      const row = saved.at(nth) ?? null
      if (row) pending.bind(name, row.id)
      // What is being saved is answered by its save.
      if (state === 'saving') continue
      typed.goneUnderneath(name, row === null)
      if (row)
        for (const column of cells.keys()) typed.underneath(name, column, row.values[columns.indexOf(column)])
    }
    const now = typed.counts().conflicts
    this.shown()
    this.tell()
    if (now > conflicts) kernel.announcer.sayBeside(this.texts.conflicts(kernel.format(now)))
  }

  // ── From elsewhere ──────────────────────────────────────────────────────────────────────────────────────────

  /** Brings a pending row into view and the keyboard onto it. */
  async goTo(name: string, column: string | null = null): Promise<void> {
    const { kernel, pending } = this
    const id = pending.idOf(name)
    if (id === undefined) return
    const to = column ?? (kernel.navigator.column || kernel.screen.firstColumn)
    if (!isNewRow(id)) {
      if (await kernel.goToRow(id)) kernel.navigator.go(kernel.navigator.line, to)
      return
    }
    const line = Array.from({ length: kernel.lines.lineCount }, (_, at) => at).find(at => {
      const shown = kernel.lines.line(at)
      return shown?.kind === 'new' && shown.row === id
    })
    const columns = kernel.screen.columns.filter(one => this.canEditColumn(one))
    if (line !== undefined) kernel.navigator.go(asPageLine(line), column ?? columns.at(0) ?? to)
  }

  /** Writes a cell from code. */
  async setCell(key: KeyValue, column: string, given: unknown): Promise<void> {
    const { model } = this.kernel
    const field = this.fieldOf(column)
    if (!field || !this.canEditColumn(column))
      throw new RangeError(`There is no column "${column}" that can be changed.`)
    const [row = null] =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys: [key], columns: [column] })) ?? []
    if (!row) throw new RangeError(`There is no row with the key ${JSON.stringify(key)}.`)
    const text =
      given === null || given === undefined ? '' : Array.isArray(given) ? given.join(', ') : String(given)
    const ref = refOf(key)
    this.write(
      [{ target: { ref, id: row.id, column, saved: row.values[0] }, content: this.contentOf(text, field) }],
      this.texts.typed(model.titleOf(column), text),
    )
    await this.checks.settled()
  }

  /** Takes in a document of changes; told is what of it does not hold any more. */
  async takeList(list: Parameters<PendingRows['typed']['takeList']>[0]): Promise<void> {
    const { leftOut } = this.pending.typed.takeList(list, column => this.fieldOf(column))
    if (leftOut.length > 0)
      this.kernel.tell({ code: 'left-out', message: this.texts.leftOut(leftOut.join(', ')) })
    for (const { name } of this.pending.typed.newRows()) this.pending.idOfNew(name)
    await this.followRows()
    this.checks.check(this.pending.typed.list())
    this.refreshed()
    await this.checks.settled()
  }

  /** The editor follows its cell. */
  drawn(): void {
    if (this.editor.isOpen) this.editor.place()
  }

  get isEditing(): boolean {
    return this.editor.isOpen
  }

  /** What is typed is taken before something else happens. */
  finishEditing(): void {
    this.editor.finish('stay')
  }

  failedToKeep(error: unknown): void {
    this.kernel.tell({ code: 'not-kept', message: this.texts.notKept(errorOf(error).message) })
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

/** The key in a row's name. */
const keyIn = (name: string): KeyValue =>
  name.startsWith('k') ? (JSON.parse(name.slice(1)) as KeyValue) : null
