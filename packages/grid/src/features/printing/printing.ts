import { make } from '../../kernel/dom.ts'
import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Rows that are printed at most, unless the host says otherwise: some fifty pages. */
const MOST_ROWS = 2000

export interface PrintOptions {
  /** Rows at most; default: 2,000. How many there are beyond is said on the first page. */
  readonly most?: number
  /** A window whose page becomes what is printed; default: a frame of its own, for as long as that takes. */
  readonly to?: Window
}

/** Of the grid's handle: rows on paper. */
export interface PrintingHandle {
  /**
   * Prints the lines as they are arranged: headings on every page, groups together where they fit, columns fitted to the
   * paper. Answers how many rows that are.
   */
  print(options?: PrintOptions): Promise<number>
}

/** A frame of its own; its page is there at once in some browsers, and a moment later in others. */
async function emptyFrame(parent: HTMLElement): Promise<HTMLIFrameElement> {
  const own = make('iframe', 'print-frame', parent)
  own.ariaHidden = 'true'
  own.tabIndex = -1
  if (own.contentDocument?.readyState !== 'complete')
    await new Promise(resolve => own.addEventListener('load', resolve, { once: true }))
  return own
}

/** Rows are printed, from code and, where the definition offers it, by a button. */
export function printing(kernel: Kernel): Feature {
  const { model, texts, bar, frame, screen, announcer, format, disposal } = kernel

  async function print({ most = MOST_ROWS, to }: PrintOptions = {}): Promise<number> {
    const [{ printedLines }, { printSheet }, { printTable }] = await Promise.all([
      import('./printed-lines.ts'),
      import('./print-sheet.ts'),
      import('./print-table.ts'),
    ])
    const columns = screen.columns.filter(
      key => !isOwnColumn(key) && model.columnOf(key)?.cell.kind !== 'actions',
    )
    const printed = await printedLines(kernel, columns, most)
    const own = to ? null : await emptyFrame(frame)
    const page = to ?? own?.contentWindow
    if (!page) throw new Error('There is no window to print from.')
    const { document } = page
    const title = model.definition?.title || texts.rows
    document.title = title
    document.documentElement.lang = frame.ownerDocument.documentElement.lang
    document.dir = screen.viewport.rtl ? 'rtl' : 'ltr'
    const heading = document.createElement('h1')
    heading.textContent = title
    const about = document.createElement('p')
    about.className = 'about'
    about.textContent = aboutPrinted(printed)
    document.body.replaceChildren(heading, about, printTable(document, printed, texts))
    const { CSSStyleSheet: Sheet } = page as unknown as { CSSStyleSheet: typeof CSSStyleSheet }
    const sheet = new Sheet()
    sheet.replaceSync(printSheet(printed.columns.reduce((sum, { width }) => sum + width, 0)))
    document.adoptedStyleSheets = [sheet]
    const done = new Promise(resolve => {
      page.addEventListener('afterprint', resolve, { once: true })
    })
    page.print()
    if (own) void done.then(() => own.remove())
    return printed.printed
  }

  /** How many rows these are, and what is asked of them. */
  function aboutPrinted({
    printed,
    passing,
  }: {
    readonly printed: number
    readonly passing: number
  }): string {
    const rows =
      printed < passing
        ? texts.printedFirst(format(printed), format(passing), passing)
        : texts.printedAll(format(passing), passing)
    const asked = kernel.features
      .all(feature => feature.chips?.() ?? [])
      .flat()
      .map(({ before, name, after }) => [before, name, after].filter(Boolean).join(' '))
    const { search } = model.arrangement
    return [rows, ...(search.trim() ? [texts.printedSearch(search.trim())] : []), ...asked].join(texts.parted)
  }

  const button = make('button', 'button')
  button.type = 'button'
  button.textContent = texts.print
  button.hidden = true
  bar.addAtEnd(button)
  disposal.listen(button, 'click', () => {
    button.disabled = true
    void print()
      .then(rows => announcer.say(texts.printed(format(rows), rows)), kernel.failed)
      .finally(() => {
        button.disabled = false
      })
  })
  const show = (): void => {
    button.hidden = !model.definition?.print || !model.canTell('cells')
  }

  const handle: PrintingHandle = { print }
  return { name: 'printing', handle, defined: show, viewed: show }
}
