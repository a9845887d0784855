import type { RowId } from '@vast-meadow/engine'
import { make, type Disposal } from '../../kernel/dom.ts'
import { sizeObserver } from '../../kernel/simulated-dom.ts'

/** What rows show is kept for so many rows out of view, with the state that it has: a scroll position, a field half filled. */
const KEPT_CONTENTS = 20

/** What draws one row's detail. */
export interface DetailDrawing {
  /** Reads the row, and draws it; also again, where it may differ. */
  load(): Promise<void>
  release(): void
}

interface Content {
  readonly element: HTMLElement
  readonly drawing: DetailDrawing
  /** In CSS px; null: nothing is drawn yet. */
  height: number | null
  loaded: boolean
  stale: boolean
}

export interface DetailContentsHost {
  /** Draws a row into a place. */
  draw(row: RowId, place: HTMLElement): DetailDrawing
  /** A height is another. */
  resized(): void
  readonly failed: (error: unknown) => void
}

/** What open rows show: made when it first comes into view, and kept for a while when it goes. */
export class DetailContents {
  private readonly contents = new Map<RowId, Content>()
  private readonly rows = new WeakMap<Element, RowId>()
  private readonly observer: ResizeObserver
  private readonly host: DetailContentsHost

  constructor(host: DetailContentsHost, disposal: Disposal) {
    this.host = host
    this.observer = sizeObserver(entries => this.resized(entries))
    disposal.add(() => {
      this.observer.disconnect()
      this.clear()
    })
  }

  elementOf(row: RowId): HTMLElement {
    const content = this.contents.get(row) ?? this.make(row)
    // The newest stands last.
    this.contents.delete(row)
    this.contents.set(row, content)
    if (content.stale) this.load(content)
    this.keepFew()
    return content.element
  }

  heightOf(row: RowId): number | null {
    const content = this.contents.get(row)
    if (!content?.loaded) return null
    if (content.height === null && content.element.isConnected) content.height = content.element.offsetHeight
    return content.height
  }

  /** Whether something in what a row shows has the focus, also where it stands in a slot or a shadow root. */
  holdsFocus(row: RowId): boolean {
    return this.contents.get(row)?.element.matches(':focus-within') ?? false
  }

  /** Rows may have other values: what is in view is drawn again, all else when it comes into view. */
  outdate(): void {
    for (const content of this.contents.values()) {
      content.stale = true
      if (content.element.isConnected) this.load(content)
    }
  }

  drop(row: RowId): void {
    const content = this.contents.get(row)
    if (!content) return
    this.contents.delete(row)
    this.observer.unobserve(content.element)
    content.element.remove()
    content.drawing.release()
  }

  clear(): void {
    for (const row of [...this.contents.keys()]) this.drop(row)
  }

  private make(row: RowId): Content {
    const element = make('div', 'detail-content')
    this.rows.set(element, row)
    const drawing = this.host.draw(row, element)
    this.observer.observe(element)
    return { element, drawing, height: null, loaded: false, stale: true }
  }

  private load(content: Content): void {
    content.stale = false
    content.drawing.load().then(() => {
      content.loaded = true
      content.height = null
      this.host.resized()
    }, this.host.failed)
  }

  private keepFew(): void {
    for (const [row, { element }] of this.contents) {
      if (this.contents.size <= KEPT_CONTENTS) return
      if (!element.isConnected) this.drop(row)
    }
  }

  private resized(entries: readonly ResizeObserverEntry[]): void {
    let differs = false
    for (const { target } of entries) {
      const row = this.rows.get(target)
      const content = row === undefined ? undefined : this.contents.get(row)
      // Out of the document it has no height.
      if (!content?.loaded || !content.element.isConnected) continue
      const height = content.element.offsetHeight
      if (height === content.height) continue
      content.height = height
      differs = true
    }
    if (differs) this.host.resized()
  }
}
