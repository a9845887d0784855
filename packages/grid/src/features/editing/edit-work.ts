import { refOf, type PendingCounts, type Step, type TypedRow } from '@vast-meadow/engine/editing'
import { countRows, errorOf, NO_LINE } from '@vast-meadow/engine/client'
import type { ChangeList, KeyValue, LineIndex, PackedRows, RowId, Value } from '@vast-meadow/engine'
import { askFirst } from '../../kernel/confirm-view.ts'
import { editingTexts, type EditingTexts } from '../../kernel/editing-texts.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { NoticeView, type NoticeOffer } from '../../kernel/notice-view.ts'
import { editingSheet } from '../../look/editing-styles.ts'
import { asPageLine } from '../../kernel/page-line.ts'
import { CellBlocks } from './cell-blocks.ts'
import { CellTyping } from './cell-typing.ts'
import { EditActs, textGiven } from './edit-acts.ts'
import { EngineOverlay } from './engine-overlay.ts'
import { isNewRow, PendingRows } from './pending-rows.ts'
import { PendingView } from './pending-view.ts'
import { MOST_REPLACED, ReplaceCells } from './replace-cells.ts'
import { openReplace } from './replace-view.ts'
import { RowActs } from './row-acts.ts'
import { RowChecks } from './row-checks.ts'
import { saveRows } from './saving.ts'

/**
 * What becomes of what is typed: it is checked, seen by the flow, kept, saved, and settled with what others save
 * meanwhile. Loaded when the first grid lets rows be changed.
 */
export class EditWork {
  readonly texts: EditingTexts
  readonly pending: PendingRows
  readonly acts: EditActs
  readonly typing: CellTyping
  readonly blocks: CellBlocks
  readonly rows: RowActs
  private readonly kernel: Kernel
  private readonly overlay = new EngineOverlay()
  private readonly checks: RowChecks
  private readonly view: PendingView
  private readonly notice: NoticeView
  private readonly kept: (list: () => ChangeList | null) => void
  /** The row on which the keyboard is. */
  private stands: { readonly id: RowId; readonly line: LineIndex } | null = null
  private saves: Promise<unknown> = Promise.resolve()
  private source: Kernel['model']['source'] = null
  private following = 0
  private telling: Promise<unknown> = Promise.resolve()

  constructor(kernel: Kernel, kept: (list: () => ChangeList | null) => void) {
    this.kernel = kernel
    this.kept = kept
    this.texts = { ...editingTexts, ...kernel.texts.editing }
    const { model, screen, texts, foot, disposal } = kernel
    kernel.adopt(editingSheet(kernel.root.ownerDocument))
    this.pending = new PendingRows(this.texts, column => model.showOf(column))
    this.checks = new RowChecks(model, this.pending, kernel.options.parts?.checks ?? {}, () => this.shown())
    this.notice = new NoticeView(texts, disposal)
    const goTo = (name: string, column?: string): Promise<void> => this.goTo(name, column)
    this.acts = new EditActs(kernel, this.pending, this.texts, steps => this.after(steps), goTo)
    this.rows = new RowActs(this.acts, async name => {
      await this.goTo(name)
      this.typing.begin(kernel.navigator)
    })
    this.blocks = new CellBlocks(this.acts, this.rows, this.notice)
    this.typing = new CellTyping(
      this.acts,
      (boxes, text) => this.blocks.fill(boxes, () => text),
      () => this.followRows(),
    )
    foot.addAtEnd(this.notice.element)
    this.view = new PendingView(kernel, this.pending, this.texts, {
      save: () => void this.save().catch(kernel.failed),
      discard: () => void this.askToDiscard().catch(kernel.failed),
      takeBack: (name, field) => this.takeBack(name, field),
      settle: (name, field, keep) => this.settle(name, field, keep),
      goTo: name => void this.goTo(name).catch(kernel.failed),
    })
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

  /** Asks what is to stand in a column instead of what. `value`: what the cell has from which it is asked. */
  askToReplace(column: string, value: Value): void {
    const { kernel, acts, texts } = this
    const { model } = kernel
    const ticked = kernel.features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    const count = this.countOf(ticked ?? null)
    const replace = new ReplaceCells(acts)
    openReplace(kernel.frame, texts, kernel.texts.cancel, {
      title: model.titleOf(column),
      find: acts.editText(column, value),
      counts: {
        passing: kernel.view?.report.passing ?? 0,
        selected: count > 0 ? count : null,
      },
      most: MOST_REPLACED,
      format: kernel.format,
      preview: async (replacing, onlySelected) =>
        await replace.preview(column, replacing, onlySelected ? (ticked ?? null) : null),
      shown: async cells => {
        const refs = await acts.refsOf(cells.map(({ id }) => id))
        return cells.map(({ id, before }, nth) => ({
          row: this.rows.nameOf(refs[nth]),
          before: this.pending.cellOf(id, column)?.now.text ?? model.showOf(column)(before),
        }))
      },
      apply: async replacement => {
        await replace.apply(column, replacement)
        // Others may have changed these cells while what will change was looked at.
        await this.followRows()
      },
      failed: kernel.failed,
    })
  }

  countOf(ticked: PackedRows | null): number {
    return ticked ? countRows({ kind: 'set', ...ticked }) : 0
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
    this.acts.acted(steps, this.texts.takeBack)
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
    this.acts.acted(steps, this.texts.discard)
  }

  private async askToDiscard(): Promise<void> {
    const { changed, added, removed } = this.counts
    const question = this.texts.askDiscard(
      this.kernel.format(changed + added + removed),
      changed + added + removed,
    )
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
    pending.staying = this.stayingRow()
    kernel.screen.body.refresh()
    this.view.show()
    this.view.showHere(this.stands?.id ?? null, kernel.navigator.column)
    this.kept(() =>
      pending.typed.isEmpty ? null : pending.typed.toList(column => this.acts.fieldOf(column)),
    )
    kernel.emitter.emit('pending', pending.typed.counts())
  }

  private besideDiffers(): void {
    const { kernel, pending } = this
    pending.at = kernel.model.definition?.editing.newRows === 'foot' ? 'foot' : 'head'
    const had = kernel.beside !== null
    const has = pending.typed.newRows().length > 0
    kernel.beside = has ? pending : null
    if (had || has) kernel.besideDiffers()
  }

  /** The name of the row that the reader is on, where it would go elsewhere as soon as the flow saw what is typed in it. */
  private stayingRow(): string | null {
    const { definition } = this.kernel.model
    const row = this.stands && definition?.editing.seen ? this.pending.rowOf(this.stands.id) : undefined
    return row && !row.isNew && this.moves(row) ? row.name : null
  }

  /** The engine comes to see what is pending, but for the row that the reader is on where it would move. */
  private tell(): void {
    const { model } = this.kernel
    if (!model.definition?.editing.seen || model.description?.can.commit !== true) return
    const rows = this.pending.typed.list()
    const changes = this.overlay.changesFor(rows, this.stayingRow(), model.keyFields, column =>
      this.acts.fieldOf(column),
    )
    if (!changes) return
    this.telling = this.telling
      .then(() => this.kernel.changes.commit(changes, true))
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
    const ordersOtherwise = order.some(({ column }) => this.acts.columnOf(column)?.order.by === 'expression')
    return ordersOtherwise || [...row.cells.keys()].some(column => deciding.has(column))
  }

  /** The keyboard is on another row: the one before goes where it belongs, and is saved where rows are. */
  moved(): void {
    const { navigator, lines, pager, model } = this.kernel
    const at = navigator.line >= 0 ? lines.line(navigator.line) : undefined
    const id = at?.kind === 'row' || at?.kind === 'new' ? at.row : null
    this.view.showHere(id, navigator.column)
    const before = this.stands
    if (id === (before?.id ?? null)) return
    this.stands = id === null ? null : { id, line: pager.ofView(navigator.line) }
    if (!before) return
    const staying = this.stayingRow()
    if (staying !== this.pending.staying) {
      this.pending.staying = staying
      this.kernel.screen.body.refresh()
    }
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
        kernel.announcer.say(
          notValid > 0 ? texts.nothingRight(kernel.format(notValid), notValid) : texts.nothingToSave,
        )
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
          ? texts.savedSome(kernel.format(saved), kernel.format(left), saved)
          : texts.saved(kernel.format(saved), saved)
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
    if (now > conflicts) kernel.announcer.sayBeside(this.texts.conflicts(kernel.format(now), now))
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
    const columns = kernel.screen.columns.filter(one => this.acts.canEditColumn(one))
    if (line !== undefined) kernel.navigator.go(asPageLine(line), column ?? columns.at(0) ?? to)
  }
  /** Writes a cell from code. */
  async setCell(key: KeyValue, column: string, given: unknown): Promise<void> {
    const { model } = this.kernel
    const field = this.acts.fieldOf(column)
    if (!field || !this.acts.canEditColumn(column) || this.acts.isKey(column))
      throw new RangeError(`There is no column "${column}" that can be changed.`)
    const [row = null] =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys: [key], columns: [column] })) ?? []
    if (!row) throw new RangeError(`There is no row with the key ${JSON.stringify(key)}.`)
    const text = textGiven(given)
    const ref = refOf(key)
    this.acts.write(
      [
        {
          target: { ref, id: row.id, column, saved: row.values[0] },
          content: this.acts.contentOf(text, field),
        },
      ],
      this.texts.typed(model.titleOf(column), text),
    )
    await this.checks.settled()
  }
  /** Takes in a document of changes; told is what of it does not hold any more. */
  async takeList(list: Parameters<PendingRows['typed']['takeList']>[0]): Promise<void> {
    const { leftOut } = this.pending.typed.takeList(list, column => this.acts.fieldOf(column))
    if (leftOut.length > 0)
      this.kernel.tell({ code: 'left-out', message: this.texts.leftOut(leftOut.join(', ')) })
    for (const { name } of this.pending.typed.newRows()) this.pending.idOfNew(name)
    await this.followRows()
    this.checks.check(this.pending.typed.list())
    this.refreshed()
    await this.checks.settled()
  }

  /** Resolves when everything that is pending was checked. */
  checked(): Promise<void> {
    return this.checks.settled()
  }

  failedToKeep(error: unknown): void {
    this.kernel.tell({ code: 'not-kept', message: this.texts.notKept(errorOf(error).message) })
  }
}
