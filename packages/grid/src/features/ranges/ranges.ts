import type { LineIndex, Rows } from '@vast-meadow/engine'
import { asLine, RowSet } from '@vast-meadow/engine/client'
import { isOwnColumn } from '../../band/geometry.ts'
import { elementOf } from '../../kernel/dom.ts'
import type { CellBox, Feature, MenuEntry, Place } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../../kernel/page-line.ts'
import { SomeSummaries, type RowsOfColumns } from '../../kernel/some-summaries.ts'
import { CellRanges, countCells, RangeLookup, spansByColumn, type LineCell } from './cell-ranges.ts'

/** Ranges hold for lines and columns as they stand. */
const ENDS_RANGES = [
  'columns',
  'hidden',
  'pinnedStart',
  'pinnedEnd',
  'order',
  'conditions',
  'where',
  'search',
  'groups',
  'open',
] as const
/** Summaries are asked for when ranges have rested so long. */
const REST_MS = 120

/** Of the grid's handle: ranges of cells. */
export interface RangesHandle {
  /** The picked rectangles of cells: lines are those of the whole view, counted from 0; `to` is behind the last. */
  readonly cellRanges: readonly CellBox[]
  /** Picks cells from one line and column to another, both included; `adding`: beside what is picked. */
  pickCells(from: LineCell, to: LineCell, adding?: boolean): void
  clearCells(): void
}

/** Ranges of cells, by pointer and by keys; what they come to stands in a line of summaries. */
export function ranges(kernel: Kernel): Feature {
  const { model, texts, screen, navigator, announcer, sweep, features, format, options, disposal } = kernel
  const order = (): string[] => screen.columns.filter(column => !isOwnColumn(column))
  const picked = new CellRanges(order)
  const sums = new SomeSummaries(model, texts, options.parts)
  let timer = 0
  let rowsMoved = false
  let byFinger = false
  disposal.add(() => clearTimeout(timer))

  const may = (): boolean => model.selectionRules.cells
  const cellOf = ({ line, column }: Place): LineCell => ({
    line: kernel.pager.ofView(line),
    column: isOwnColumn(column) ? screen.firstColumn : column,
  })

  /** Other cells are picked: those that are drawn show it at once, what they come to follows when they rest. */
  function changed(): void {
    const boxes = picked.boxes()
    const lookup = new RangeLookup(boxes)
    kernel.sidesOf =
      boxes.length === 0 ? null : (line, column) => lookup.sidesOf(kernel.pager.ofView(line), column)
    screen.body.refreshRanges()
    clearTimeout(timer)
    if (boxes.length === 0) sums.clear()
    timer = window.setTimeout(() => void rested(boxes).catch(kernel.failed), boxes.length === 0 ? 0 : REST_MS)
  }

  async function rested(boxes: readonly CellBox[]): Promise<void> {
    if (boxes.length > 0) {
      announcer.say(texts.cellsPicked(format(countCells(boxes)), countCells(boxes)))
      if (!(await sums.ask(await rowsOfColumns(boxes)))) return
    }
    features.all(feature => feature.summaryLinesDiffer?.())
  }

  /** Columns that the same lines are picked of are asked for together. */
  async function rowsOfColumns(boxes: readonly CellBox[]): Promise<RowsOfColumns[]> {
    const { view } = kernel
    if (!view || !model.canTell('rowsBetween')) return []
    const together = new Map<
      string,
      { columns: string[]; spans: readonly { from: LineIndex; to: LineIndex }[] }
    >()
    for (const [column, spans] of spansByColumn(boxes)) {
      const name = JSON.stringify(spans)
      const same = together.get(name)
      if (same) same.columns.push(column)
      else together.set(name, { columns: [column], spans })
    }
    return await Promise.all(
      [...together.values()].map(async ({ columns, spans }) => {
        const parts = await Promise.all(
          spans.map(({ from, to }) => model.ask('rowsBetween', { view: view.id, from, to })),
        )
        return { columns, rows: joined(parts.filter(rows => rows !== undefined)) }
      }),
    )
  }

  function clear(): boolean {
    if (picked.isEmpty) return false
    picked.clear()
    changed()
    return true
  }

  /** From where a range begins that is made larger: that of the last one, else where the keyboard is. */
  const anchorAt = (at: Place): LineCell => picked.anchor ?? cellOf(at)

  function extend(at: Place, to: Place): void {
    if (picked.isEmpty) picked.begin(anchorAt(at), cellOf(to), false)
    else picked.extend(cellOf(to))
    changed()
  }

  const pickColumn = ({ column }: Place, adding: boolean): void => {
    const last = (kernel.view?.lines.lineCount ?? 0) - 1
    if (last < 0) return
    picked.begin({ line: asLine(0), column }, { line: asLine(last), column }, adding)
    changed()
  }
  const pickRow = (at: Place, adding: boolean): void => {
    const columns = order()
    const { line } = cellOf(at)
    picked.begin({ line, column: columns[0] }, { line, column: columns[columns.length - 1] }, adding)
    changed()
  }

  disposal.listen(screen.viewport.view, 'pointerdown', event => {
    const target = elementOf(event.target)
    const at = target && kernel.cellAt(target)
    if (
      !may() ||
      !at ||
      at.line < 0 ||
      event.button !== 0 ||
      target.closest('.box, button, a[href], .groupcell, .stuck, .detailcell')
    )
      return
    if (event.shiftKey && model.selectionRules.by === 'box') {
      // The keyboard goes along, as with keys: the range begins where it was.
      event.preventDefault()
      return
    }
    const start = cellOf(at)
    const before = picked.all
    const adding = event.ctrlKey || event.metaKey
    let begun = false
    // A finger may scroll, or ask for the menu of what is picked.
    byFinger = event.pointerType === 'touch'
    if (!adding && !byFinger) clear()
    sweep.begin(event, {
      over(to) {
        const focus = cellOf(to)
        // Within one cell its text is selected, as anywhere in a page.
        if (!begun && focus.line === start.line && focus.column === start.column) return false
        if (begun) picked.extend(focus)
        else picked.begin(start, focus, adding)
        if (!begun) kernel.root.ownerDocument.getSelection()?.removeAllRanges()
        begun = true
        kernel.frame.classList.add('sweeping')
        changed()
        return true
      },
      end(keep) {
        kernel.frame.classList.remove('sweeping')
        if (keep) return
        picked.restore(adding ? before : [])
        changed()
      },
    })
  })

  /** The cell that a key with Shift goes to; null: it goes nowhere. */
  function goal({ key, ctrlKey, metaKey }: KeyboardEvent): Place | null {
    const columns = order()
    const focus = picked.all.at(-1)?.focus
    const line = focus ? kernel.pager.onPage(focus.line) : navigator.line
    const at = Math.max(0, columns.indexOf(focus?.column ?? navigator.column))
    const far = ctrlKey || metaKey
    const last = kernel.lines.lineCount - 1
    /** What an open row shows is passed over. */
    const passed = (to: number): PageLine =>
      asPageLine(kernel.lines.line(to)?.kind === 'detail' && to < last && to > line ? to + 1 : to)
    const step = (lines: number, along: number): Place => ({
      line: passed(Math.max(0, Math.min(last, line + lines))),
      column: columns[Math.max(0, Math.min(columns.length - 1, at + along))],
    })
    const [many, page] = [Number.MAX_SAFE_INTEGER, Math.max(1, screen.pageLines - 1)]
    const sideways = (key === 'ArrowRight') !== screen.viewport.rtl ? 1 : -1
    switch (key) {
      case 'ArrowDown':
      case 'ArrowUp':
        return step((key === 'ArrowDown' ? 1 : -1) * (far ? many : 1), 0)
      case 'ArrowRight':
      case 'ArrowLeft':
        return step(0, sideways * (far ? columns.length : 1))
      case 'PageDown':
        return step(page, 0)
      case 'PageUp':
        return step(-page, 0)
      case 'Home':
        return step(far ? -many : 0, -columns.length)
      case 'End':
        return step(far ? many : 0, columns.length)
      default:
        return null
    }
  }

  const handle: RangesHandle = {
    get cellRanges() {
      return picked.boxes()
    },
    pickCells(from, to, adding = false) {
      const { lineCount = 0 } = kernel.view?.lines ?? {}
      const known = order()
      for (const { line, column } of [from, to])
        if (!known.includes(column) || !Number.isInteger(line) || line < 0 || line >= lineCount)
          throw new RangeError(
            `There is no cell of "${column}" on line ${line}; there are ${lineCount} lines.`,
          )
      picked.begin(from, to, adding)
      changed()
    },
    clearCells: () => void clear(),
  }

  return {
    name: 'ranges',
    handle,
    cellBoxes: () => (picked.isEmpty ? null : picked.boxes()),
    viewed() {
      // Lines stand elsewhere, or are others.
      if (rowsMoved) clear()
      else if (!picked.isEmpty) changed()
      rowsMoved = false
    },
    arranged(_, change) {
      if (!ENDS_RANGES.some(part => part in change)) {
        if ('summaries' in change && !picked.isEmpty) changed()
        return
      }
      rowsMoved = true
      clear()
    },
    defined() {
      if (!may()) clear()
    },
    summaryLines: () =>
      picked.isEmpty
        ? []
        : [
            {
              name: texts.cellsPicked(format(countCells(picked.boxes())), countCells(picked.boxes())),
              summaryOf: column => sums.of(column),
            },
          ],
    headingMenu: column =>
      may()
        ? [
            {
              text: texts.pickColumn(model.titleOf(column)),
              act: () => pickColumn({ line: ABOVE_LINES, column }, false),
            },
          ]
        : [],
    cellMenu: (cell): MenuEntry[] =>
      may()
        ? [
            { text: texts.pickColumn(model.titleOf(cell.column)), act: () => pickColumn(cell, false) },
            { text: texts.pickRow, act: () => pickRow(cell, false) },
          ]
        : [],
    click(event, at) {
      if (byFinger) clear()
      if (!may() || at.line < 0 || !event.shiftKey || model.selectionRules.by !== 'box') return false
      if (elementOf(event.target)?.closest('.box')) return false
      extend({ line: navigator.line, column: navigator.column }, at)
      return true
    },
    key(event, at) {
      if (!may() || at.line < 0) return false
      if (event.key === 'Escape') return clear()
      if (event.key === ' ' && (event.ctrlKey || event.metaKey)) {
        if (event.shiftKey) pickRow(at, true)
        else pickColumn({ ...at, column: cellOf(at).column }, false)
        return true
      }
      if (!event.shiftKey) {
        // As soon as the keyboard goes elsewhere, nothing is picked any more.
        if (/^(Arrow|Page|Home|End)/.test(event.key)) clear()
        return false
      }
      const to = goal(event)
      if (!to) return false
      extend(at, to)
      navigator.go(to.line, to.column)
      return true
    },
  }
}

/** Rows of several spans together. */
function joined(parts: readonly Rows[]): Rows {
  if (parts.length === 1) return parts[0]
  const set = new RowSet()
  for (const rows of parts) set.addAll(rows)
  return { kind: 'set', ...set.packed() }
}
