import { countRows } from '@vast-meadow/engine/client'
import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { type PageLine } from '../../kernel/page-line.ts'
import { CopiedCells, type Copied, type CopyOptions } from './copied-cells.ts'
import { htmlTable, tabbedText } from './table-text.ts'

/** Cells that are copied at most: a clipboard is one text, and the page holds all of it. */
const MOST_CELLS = 1_000_000
/** Up to so many cells also go as a table with its own cells; others read a text with tabs as well. */
const MOST_IN_HTML = 100_000
/** So many are written within the event itself, which every page may do. */
const MOST_AT_ONCE = 5_000

/** Of the grid's handle: what is taken away by the clipboard. */
export interface CopyHandle {
  /**
   * Copies the picked cells, else the selected rows, else the cell that the keyboard is on; answers how many cells these
   * were. Rejects where these are too many, or the page may not write to the clipboard.
   */
  copyCells(options?: CopyOptions): Promise<number>
  /** The same as text with tabs between cells, for wherever the host wants it. */
  cellsAsText(options?: CopyOptions): Promise<string>
}

/** Picked cells, selected rows or the cell of the keyboard are copied, as text and as a table at once. */
export function copy(kernel: Kernel): Feature {
  const { model, screen, navigator, announcer, texts, features, format, bar, disposal } = kernel

  const shownText = (line: PageLine, column: string): string | undefined => {
    const shown = line < 0 || isOwnColumn(column) ? undefined : kernel.lines.line(line)
    if (!shown || shown.kind === 'detail') return undefined
    return shown.kind === 'row' || shown.kind === 'new'
      ? kernel.lines.text(line, shown.row, column)
      : shown.shown
  }

  /** What is copied now; null: not even a cell. */
  function copied(): Copied | null {
    const boxes = features.all(feature => feature.cellBoxes?.() ?? null).find(one => one !== null)
    if (boxes) return { kind: 'boxes', boxes }
    const rows = features.all(feature => feature.ticked?.() ?? null).find(one => one !== null)
    const count = rows ? countRows({ kind: 'set', ...rows }) : 0
    if (rows && count > 0 && model.canTell('rowCells')) return { kind: 'rows', rows, count }
    return oneCell()
  }

  function oneCell(): Copied | null {
    const { line, column } = navigator
    if (line < 0 || isOwnColumn(column) || !kernel.lines.line(line)) return null
    const from = kernel.pager.ofView(line)
    return { kind: 'boxes', boxes: [{ from, to: (from + 1) as typeof from, columns: [column] }] }
  }

  interface Written {
    readonly text: string
    /** null: there are too many cells for a table. */
    readonly html: string | null
  }
  const written = (rows: readonly (readonly string[])[], cells: CopiedCells): Written => {
    const all = [...cells.titles, ...rows]
    return {
      text: tabbedText(all),
      html: cells.count > MOST_IN_HTML ? null : htmlTable(all, cells.titles.length),
    }
  }

  async function write(cells: CopiedCells): Promise<Written> {
    const { count, titles } = cells
    const table: string[][] = []
    const parts: string[] = titles.length > 0 ? [tabbedText(titles)] : []
    for await (const rows of cells.read()) {
      parts.push(tabbedText(rows))
      if (count <= MOST_IN_HTML) table.push(...rows)
    }
    const html = count > MOST_IN_HTML ? null : htmlTable([...titles, ...table], titles.length)
    return { text: parts.join('\r\n'), html }
  }

  const tooMany = (cells: CopiedCells): string =>
    texts.tooManyToCopy(format(cells.count), format(MOST_CELLS), cells.count)

  /** Writes to the clipboard what is still to be read: the browser waits for it. */
  async function copyLater(cells: CopiedCells): Promise<void> {
    const { clipboard } = navigatorOf(kernel)
    if (!clipboard || typeof ClipboardItem === 'undefined') throw new Error(texts.noClipboard)
    bar.setWorking(true)
    try {
      const later = write(cells)
      const blob = async (type: 'text/plain' | 'text/html'): Promise<Blob> => {
        const { text, html } = await later
        return new Blob([type === 'text/html' ? (html ?? '') : text], { type })
      }
      const types =
        cells.count > MOST_IN_HTML ? (['text/plain'] as const) : (['text/plain', 'text/html'] as const)
      await clipboard.write([new ClipboardItem(Object.fromEntries(types.map(type => [type, blob(type)])))])
    } finally {
      bar.setWorking(false)
    }
    told(cells)
  }

  const told = ({ count }: CopiedCells): void => announcer.say(texts.cellsCopied(format(count), count))

  async function copyCells(options: CopyOptions = {}, what = copied()): Promise<number> {
    const cells = new CopiedCells(kernel, what ?? { kind: 'boxes', boxes: [] }, options)
    if (cells.count > MOST_CELLS) throw new RangeError(tooMany(cells))
    if (cells.count > 0) await copyLater(cells)
    return cells.count
  }

  disposal.listen(screen.viewport.view, 'copy', event => {
    const selection = kernel.root.ownerDocument.getSelection()
    const what = copied()
    if (selection && !selection.isCollapsed && !features.all(one => one.cellBoxes?.() ?? null).some(Boolean))
      return
    if (!what) {
      const text = shownText(navigator.line, navigator.column)
      if (text === undefined) return
      event.clipboardData?.setData('text/plain', text)
      event.preventDefault()
      announcer.say(texts.copied(text))
      return
    }
    event.preventDefault()
    const cells = new CopiedCells(kernel, what, {})
    if (cells.count > MOST_CELLS) {
      kernel.tell({ code: 'too-many-to-copy', message: tooMany(cells) })
      announcer.say(tooMany(cells))
      return
    }
    const rows = cells.count <= MOST_AT_ONCE ? cells.atHand() : null
    if (!rows) {
      void copyLater(cells).catch(kernel.failed)
      return
    }
    const { text, html } = written(rows, cells)
    event.clipboardData?.setData('text/plain', text)
    if (html && cells.count > 1) event.clipboardData?.setData('text/html', html)
    if (cells.count === 1) announcer.say(texts.copied(text))
    else told(cells)
  })

  const handle: CopyHandle = {
    copyCells: options => copyCells(options),
    async cellsAsText(options = {}) {
      const what = copied()
      if (!what) return ''
      const cells = new CopiedCells(kernel, what, options)
      if (cells.count > MOST_CELLS) throw new RangeError(tooMany(cells))
      return (await write(cells)).text
    },
  }
  const entry = (text: string, options: CopyOptions, what?: Copied | null): MenuEntry => ({
    text,
    act: () => void copyCells(options, what ?? copied()).catch(kernel.failed),
  })
  return {
    name: 'copy',
    handle,
    cellMenu: () => {
      const what = copied()
      if (!what) return []
      const cells = new CopiedCells(kernel, what, {})
      if (cells.count <= 1) return [entry(texts.copyCell, {}, oneCell())]
      return [
        entry(texts.copyCells(format(cells.count), cells.count), {}),
        entry(texts.copyWithHeadings, { headings: true }),
        entry(texts.copyRaw, { values: 'raw', headings: true }),
        ...(what.kind === 'rows' ? [entry(texts.copyCell, {}, oneCell())] : []),
      ]
    },
  }
}

/** Not on every page: those that are not served safely have no clipboard. */
const navigatorOf = (kernel: Kernel): { readonly clipboard?: Clipboard } =>
  kernel.root.ownerDocument.defaultView?.navigator ?? {}
