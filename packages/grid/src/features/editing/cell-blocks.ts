import { refOf, type RowRef, type Step } from '@vast-meadow/engine/editing'
import { asLine, runSliced } from '@vast-meadow/engine/client'
import type { LineIndex, RowId, Value, Work } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { CellBox, Place } from '../../kernel/feature.ts'
import type { NoticeView } from '../../kernel/notice-view.ts'
import { cellsOfText } from './block-text.ts'
import { EMPTY, type EditActs, type Write } from './edit-acts.ts'
import type { RowActs } from './row-acts.ts'
import { rowsInBoxes, rowsOnLines, type TargetRow } from './target-cells.ts'

/** A text that is to go into a cell. */
interface CellText {
  readonly ref: RowRef
  readonly row: TargetRow
  readonly column: string
  readonly text: string
}

/** Texts are read in slices, so that the page goes on. */
const [SLICE_MS, CELLS_A_SLICE] = [6, 256]

/** Many cells at once: pasted, filled, emptied. */
export class CellBlocks {
  private readonly acts: EditActs
  private readonly rows: RowActs
  private readonly notice: NoticeView

  constructor(acts: EditActs, rows: RowActs, notice: NoticeView) {
    this.acts = acts
    this.rows = rows
    this.notice = notice
    acts.kernel.disposal.listen(acts.kernel.screen.viewport.view, 'paste', event => this.paste(event))
  }

  /** The cells of rectangles that can be changed; of the rest, how many there are. */
  private async writesIn(
    boxes: readonly CellBox[],
    textOf: (row: TargetRow, column: string) => string | null,
  ): Promise<{ writes: Write[]; left: number }> {
    const targets = await rowsInBoxes(this.acts.kernel, boxes)
    const refs = await this.acts.refsOf(targets.map(({ row }) => row.id))
    const may = await this.acts.mayEdit(targets.map(({ row }) => row.id))
    const cells = targets.flatMap(({ row, columns }, nth) =>
      columns.flatMap((column): CellText[] => {
        const text = textOf(row, column)
        return text === null ? [] : [{ ref: refs[nth], row, column, text }]
      }),
    )
    return await runSliced(this.writesOf(cells, may), { sliceMs: SLICE_MS })
  }

  /** What texts come to in cells; and how many of these cannot be changed. */
  private *writesOf(
    cells: readonly CellText[],
    may: (id: RowId, column: string) => boolean,
  ): Work<{ writes: Write[]; left: number }> {
    const writes: Write[] = []
    let left = 0
    for (const [nth, { ref, row, column, text }] of cells.entries()) {
      if (nth % CELLS_A_SLICE === CELLS_A_SLICE - 1) yield
      const field = this.acts.fieldOf(column)
      if (!field || !may(row.id, column)) left++
      else
        writes.push({
          target: this.acts.targetOf(ref, row, column),
          content: this.acts.contentOf(text, field),
        })
    }
    return { writes, left }
  }

  async fill(
    boxes: readonly CellBox[],
    textOf: (row: TargetRow, column: string) => string | null,
  ): Promise<void> {
    const { writes, left } = await this.writesIn(boxes, textOf)
    this.acts.write(writes, this.acts.texts.filled(this.acts.kernel.format(writes.length), writes.length))
    this.tellWritten(this.acts.texts.filled, writes.length, left)
  }

  private tellWritten(words: (shown: string, count: number) => string, done: number, left: number): void {
    const { format, announcer } = this.acts.kernel
    const said =
      left > 0 ? this.acts.texts.pastedSome(format(done), format(left), done) : words(format(done), done)
    announcer.say(said)
    if (left > 0) this.notice.show(said, [], false)
  }

  /** Empties the picked cells, or that of the keyboard. */
  async clear(at: Place): Promise<void> {
    const boxes = this.acts.boxes() ?? this.acts.boxOf(at)
    if (boxes.length === 0) {
      const shown = at.line >= 0 ? this.acts.kernel.lines.line(at.line) : undefined
      if (shown?.kind !== 'new' || this.acts.hindrance(at) !== null) return
      const ref = await this.acts.refOf(shown.row)
      this.acts.write(
        [{ target: { ref, id: shown.row, column: at.column, saved: null }, content: EMPTY }],
        this.acts.texts.cleared(this.acts.kernel.format(1), 1),
      )
      return
    }
    const { writes, left } = await this.writesIn(boxes, () => '')
    this.acts.write(writes, this.acts.texts.cleared(this.acts.kernel.format(writes.length), writes.length))
    this.tellWritten(this.acts.texts.cleared, writes.length, left)
  }
  /** What the first row of a rectangle has goes into its other rows. */
  async fillDown(): Promise<void> {
    const boxes = (this.acts.boxes() ?? []).filter(({ from, to }) => to - from > 1)
    const firsts = await Promise.all(
      boxes.map(async ({ from, columns }) =>
        (await rowsOnLines(this.acts.kernel, from, asLine(from + 1), columns)).at(0),
      ),
    )
    const texts = new Map<string, string>()
    for (const first of firsts)
      for (const [column, value] of first?.values ?? []) texts.set(column, this.acts.editText(column, value))
    const rest = boxes.map(box => ({ ...box, from: asLine(box.from + 1) }))
    await this.fill(rest, (_, column) => texts.get(column) ?? null)
  }
  /** The value of one cell goes into the same column of all selected rows. */
  async fillSelected(column: string, value: Value): Promise<void> {
    const { features, model } = this.acts.kernel
    const packed = features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    const field = this.acts.fieldOf(column)
    if (!packed || !field) return
    const keys =
      (await model.ask('keysOf', { keyFields: model.keyFields, rows: { kind: 'set', ...packed } })) ?? []
    const saved =
      (await model.ask('savedCells', { keyFields: model.keyFields, keys, columns: [column] })) ?? []
    const there = saved.flatMap((row, nth) => (row ? [{ row, key: keys[nth] }] : []))
    const may = await this.acts.mayEdit(there.map(({ row }) => row.id))
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
    this.acts.write(writes, this.acts.texts.filled(this.acts.kernel.format(writes.length), writes.length))
    this.tellWritten(this.acts.texts.filled, writes.length, there.length - writes.length)
  }
  private paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const { navigator } = this.acts.kernel
    if (text === '' || navigator.line < 0) return
    event.preventDefault()
    void this.pasteText(text, navigator).catch(this.acts.kernel.failed)
  }

  /** Writes a block of cells from a cell on; one cell alone goes into all that are picked. */
  async pasteText(text: string, at: Place): Promise<void> {
    const { kernel, texts } = this.acts
    const block = cellsOfText(text)
    const boxes = this.acts.boxes()
    if (block.length === 1 && block[0].length === 1 && boxes) {
      await this.fill(boxes, () => block[0][0])
      return
    }
    const order = kernel.screen.columns.filter(column => !isOwnColumn(column))
    const start = boxes?.at(-1) ?? this.acts.boxOf(at).at(0)
    if (!start) {
      await this.pasteIntoNew(block, at)
      return
    }
    const first = Math.max(0, order.indexOf(start.columns[0]))
    const width = block.reduce((most, row) => Math.max(most, row.length), 0)
    const columns = order.slice(first, first + width)
    const last = asLine(Math.min(kernel.view?.lines.lineCount ?? 0, start.from + block.length))
    const rows = await this.rowsFrom(start.from, last, block.length, columns)
    const refs = await this.acts.refsOf(rows.map(({ id }) => id))
    const may = await this.acts.mayEdit(rows.map(({ id }) => id))
    const cells = rows.flatMap((row, nth) =>
      columns.flatMap((column, i): CellText[] => {
        const text = block[nth].at(i)
        return text === undefined ? [] : [{ ref: refs[nth], row, column, text }]
      }),
    )
    const { writes, left } = await runSliced(this.writesOf(cells, may), { sliceMs: SLICE_MS })
    this.acts.write(writes, texts.pasted(kernel.format(writes.length), writes.length))
    this.tellWritten(texts.pasted, writes.length, left)
    const more = block.slice(rows.length)
    if (more.length > 0 && this.rows.mayAdd)
      this.notice.show(
        texts.moreRows(kernel.format(more.length), more.length),
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
    const rows = await rowsOnLines(this.acts.kernel, from, to, columns)
    const end = this.acts.kernel.view?.lines.lineCount ?? 0
    for (let next: number = to; rows.length < wanted && next < end;) {
      const until = Math.min(end, next + wanted - rows.length)
      rows.push(...(await rowsOnLines(this.acts.kernel, asLine(next), asLine(until), columns)))
      next = until
    }
    return rows.slice(0, wanted)
  }

  private async pasteIntoNew(block: readonly (readonly string[])[], at: Place): Promise<void> {
    const shown = this.acts.kernel.lines.line(at.line)
    if (shown?.kind !== 'new') return
    const order = this.acts.kernel.screen.columns.filter(column => !isOwnColumn(column))
    const columns = order.slice(Math.max(0, order.indexOf(at.column)))
    const ids = this.acts.pending.rows.slice(this.acts.pending.rows.indexOf(shown.row))
    const refs = await this.acts.refsOf(ids)
    const writes = refs.slice(0, block.length).flatMap((ref, nth) =>
      block[nth].flatMap((text, i): Write[] => {
        const field = i < columns.length ? this.acts.fieldOf(columns[i]) : undefined
        if (!field || !this.acts.canEditColumn(field.key)) return []
        return [
          {
            target: { ref, id: ids[nth], column: field.key, saved: null },
            content: this.acts.contentOf(text, field),
          },
        ]
      }),
    )
    this.acts.write(writes, this.acts.texts.pasted(this.acts.kernel.format(writes.length), writes.length))
    const more = block.slice(ids.length)
    if (more.length > 0) this.addBlock(more, columns)
  }

  private addBlock(block: readonly (readonly string[])[], columns: readonly string[]): void {
    const steps: Step[] = []
    for (const cells of block) {
      const step = this.acts.pending.typed.add(this.rows.startValues())
      steps.push(step)
      for (const [i, text] of cells.entries()) {
        const field = i < columns.length ? this.acts.fieldOf(columns[i]) : undefined
        if (!field || !this.acts.canEditColumn(field.key)) continue
        const written = this.acts.pending.typed.write(
          step.row,
          field.key,
          null,
          this.acts.contentOf(text, field),
        )
        if (written) steps.push(written)
      }
    }
    this.acts.acted(steps, this.acts.texts.added)
  }
}
