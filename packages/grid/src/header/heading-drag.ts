import { elementOf, make, type Disposal } from '../kernel/dom.ts'

/** A press that moved less is a click. */
const DRAG_PX = 6
/** A finger that stays so long on a heading takes hold of it; one that moves before scrolls. */
const TAKES_HOLD_MS = 350

/** What is dragged: a column by its heading, or those under a shared heading. */
export interface Dragged {
  readonly columns: readonly string[]
  readonly title: string
}

export interface HeadingDragHost {
  titleOf(column: string): string
  /** The columns under the shared heading that an element shows; null: it shows none. */
  sharedAt(element: Element): Dragged | null
  /** Where a dragged heading can be let go; null: the drag is over. */
  dragged(column: string | null): void
  /** A finger stayed on a heading and was lifted there: its menu is asked for. */
  pressedLong(column: string): void
  /** Whether something takes the heading at a place of the window. */
  over(column: string, at: { readonly x: number; readonly y: number }): boolean
  dropped(column: string, at: { readonly x: number; readonly y: number }): boolean
}

/** What in a heading is pressed for its own sake. */
const BUTTONS = '.more-of, .box, .grip, button, a[href], input'

/**
 * Drags of whole headings, to wherever features take them. Whatever else can be dragged as a column is begins with `begin`. The click that ends a
 * drag does nothing else.
 */
export class HeadingDrag {
  private readonly host: HeadingDragHost
  private readonly frame: HTMLElement
  private readonly ghost: HTMLElement
  private pressed: {
    readonly what: Dragged
    readonly x: number
    readonly y: number
    readonly pointer: number
  } | null = null
  private column: string | null = null

  constructor(frame: HTMLElement, head: HTMLElement, host: HeadingDragHost, disposal: Disposal) {
    this.host = host
    this.frame = frame
    this.ghost = make('div', 'ghost', frame)
    this.ghost.hidden = true
    this.ghost.ariaHidden = 'true'
    disposal.listen(head, 'pointerdown', event => {
      const target = elementOf(event.target)
      const heading = target?.closest<HTMLElement>('.row:not(.strip) .cell[data-column]')
      // An edge that is taken for resizing has said so.
      if (event.defaultPrevented || target?.closest(BUTTONS) || !heading?.dataset.column) return
      const shared = host.sharedAt(heading)
      if (shared) this.press(shared, event)
      else this.begin(heading.dataset.column, event)
    })
    disposal.listen(head, 'click', event => this.swallow(event), { capture: true })
    // What a finger holds does not scroll.
    disposal.listen(head, 'touchmove', event => this.holds && event.preventDefault(), { passive: false })
    disposal.add(() => clearTimeout(this.holdTimer))
    const view = frame.ownerDocument.defaultView ?? window
    const move = (event: PointerEvent): void => this.move(event)
    const up = (event: PointerEvent): void => this.end(event, true)
    const cancel = (event: PointerEvent): void => this.end(event, false)
    const key = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || this.column === null) return
      event.preventDefault()
      event.stopPropagation()
      this.over()
    }
    view.addEventListener('pointermove', move)
    view.addEventListener('pointerup', up)
    view.addEventListener('pointercancel', cancel)
    view.addEventListener('keydown', key, { capture: true })
    disposal.add(() => {
      view.removeEventListener('pointermove', move)
      view.removeEventListener('pointerup', up)
      view.removeEventListener('pointercancel', cancel)
      view.removeEventListener('keydown', key, { capture: true })
    })
  }

  /** The columns that are dragged, in the order in which they stand; none: nothing is. */
  get columns(): readonly string[] {
    return this.column === null ? [] : (this.pressed?.what.columns ?? [])
  }

  /** Whether what is dragged is a step of the trail. */
  fromTrail = false

  /** A finger has taken hold of what it pressed. */
  private holds = false
  private holdTimer = 0

  /** A pointer went down on something that stands for a column. A finger that moves at once scrolls instead. */
  begin(column: string, event: PointerEvent, fromTrail = false): void {
    this.press({ columns: [column], title: this.host.titleOf(column) }, event, fromTrail)
  }

  private press(
    what: Dragged,
    { clientX: x, clientY: y, pointerId: pointer, pointerType, button }: PointerEvent,
    fromTrail = false,
  ): void {
    this.fromTrail = fromTrail
    if (button !== 0) return
    this.pressed = { what, x, y, pointer }
    this.byTouch = pointerType === 'touch'
    this.holds = !this.byTouch
    if (this.holds) return
    this.holdTimer = window.setTimeout(() => {
      this.holds = true
      this.frame.classList.add('holding')
    }, TAKES_HOLD_MS)
  }

  /** Whether a finger has taken hold of a heading. */
  get fingerHolds(): boolean {
    return this.holds && this.byTouch
  }

  private byTouch = false

  private swallowNext(): void {
    this.justDropped = true
    setTimeout(() => (this.justDropped = false), 0)
  }

  /** The click after a drag; it means nothing. */
  swallow(event: Event): void {
    if (!this.justDropped) return
    this.justDropped = false
    event.stopPropagation()
    event.preventDefault()
  }

  private justDropped = false

  private move(event: PointerEvent): void {
    const { pressed } = this
    if (!pressed || event.pointerId !== pressed.pointer) return
    const at = { x: event.clientX, y: event.clientY }
    if (this.column === null) {
      if (Math.hypot(at.x - pressed.x, at.y - pressed.y) < DRAG_PX) return
      if (!this.holds) {
        this.over()
        return
      }
      this.column = pressed.what.columns[0]
      this.ghost.textContent = pressed.what.title
      this.ghost.hidden = false
      this.frame.classList.add('dragging')
      this.host.dragged(this.column)
    }
    event.preventDefault()
    this.refuse(null)
    const frame = this.frame.getBoundingClientRect()
    const scale = frame.width / this.frame.offsetWidth || 1
    this.ghost.style.transform = `translate(${(at.x - frame.left) / scale + 12}px, ${(at.y - frame.top) / scale + 12}px)`
    this.ghost.classList.toggle('taken', this.host.over(this.column, at))
  }

  /** Says at the pointer why what is dragged cannot be let go there; null: it can, or nothing would happen. */
  refuse(why: string | null): void {
    const { pressed } = this
    if (!pressed || this.column === null) return
    this.ghost.classList.toggle('refused', why !== null)
    const text = why ?? pressed.what.title
    if (this.ghost.textContent !== text) this.ghost.textContent = text
  }

  private end(event: PointerEvent, keep: boolean): void {
    if (this.pressed?.pointer !== event.pointerId) return
    const { column } = this
    if (column !== null) {
      if (keep) this.host.dropped(column, { x: event.clientX, y: event.clientY })
      this.swallowNext()
    } else if (this.fingerHolds && keep && !this.fromTrail) {
      this.swallowNext()
      this.host.pressedLong(this.pressed.what.columns[0])
    }
    this.over()
  }

  private over(): void {
    const dragged = this.column !== null
    clearTimeout(this.holdTimer)
    this.holds = false
    this.frame.classList.remove('holding')
    this.pressed = null
    this.column = null
    this.ghost.hidden = true
    this.frame.classList.remove('dragging')
    if (dragged) this.host.dragged(null)
  }
}
