import type { Level } from '@vast-meadow/engine'
import { focusedBeside, make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface TrailHost {
  titleOf(column: string): string
  /** Whether readers may group by the column; a step that they may not change is told, and no more. */
  mayGroup(column: string): boolean
  /** Opens what a step is made of. */
  open(nth: number, anchor: HTMLElement): void
  /** Moves a step before another place. */
  move(from: number, to: number): void
  remove(nth: number): void
  /** The pointer went down on a step, which may be dragged from here on. */
  pressed(column: string, event: PointerEvent): void
}

/**
 * The chain of columns by which rows are grouped, read as a sentence. Steps are dragged, or moved with Shift and an
 * arrow key, and taken away with Delete.
 */
export class TrailView {
  readonly element: HTMLElement
  private readonly texts: Texts
  private readonly host: TrailHost
  private levels: readonly Level[] = []
  private shown = ''
  /** A heading is under way: there is a place to let it go, also where nothing is grouped. */
  private receiving = false

  constructor(texts: Texts, host: TrailHost) {
    this.texts = texts
    this.host = host
    this.element = make('div', 'trail')
    this.element.setAttribute('part', 'trail')
    this.element.setAttribute('role', 'group')
    this.element.hidden = true
  }

  show(levels: readonly Level[]): void {
    this.levels = levels
    this.draw()
  }

  /** Shows, or hides, where a heading can be let go. */
  receive(on: boolean): void {
    this.receiving = on
    if (!on) this.mark(null)
    this.draw()
  }

  /** The steps before a place of the window: where a heading that is let go there would stand; null: not on the trail. */
  placeAt({ x, y }: { readonly x: number; readonly y: number }, rtl: boolean): number | null {
    const { left, right, top, bottom } = this.element.getBoundingClientRect()
    const beyond = 8
    if (
      this.element.hidden ||
      x < left - beyond ||
      x > right + beyond ||
      y < top - beyond ||
      y > bottom + beyond
    )
      return null
    const steps = this.steps()
    const before = steps.filter(step => {
      const at = step.getBoundingClientRect()
      const middle = (at.left + at.right) / 2
      return y > at.bottom || (y >= at.top && (rtl ? x < middle : x > middle))
    })
    return before.length
  }

  /** Shows where a heading would stand; null: nowhere. */
  mark(place: number | null): void {
    this.element.classList.toggle('over', place !== null)
    this.steps().forEach((step, nth) => {
      step.classList.toggle('before', place === nth)
      step.classList.toggle('behind', place === nth + 1 && nth + 1 === this.levels.length)
    })
  }

  /** The button of a step. */
  stepAt(nth: number): HTMLElement | undefined {
    return this.steps()[nth]?.querySelector<HTMLElement>('button') ?? undefined
  }

  private steps(): HTMLElement[] {
    return [...this.element.querySelectorAll<HTMLElement>('.step')]
  }

  private draw(): void {
    const { texts, levels, receiving } = this
    const told = levels.map(({ column, bucket }) => ({
      title: this.host.titleOf(column),
      bucket: texts.bucketNow(bucket),
      free: this.host.mayGroup(column),
    }))
    const signature = JSON.stringify([told, receiving])
    if (signature === this.shown) return
    this.shown = signature
    this.element.hidden = levels.length === 0 && !receiving
    this.element.classList.toggle('offered', levels.length === 0 && receiving)
    this.element.ariaLabel = texts.groupedBy
    const focused = focusedBeside(this.element)
    const at = focused ? this.steps().findIndex(step => step.contains(focused)) : -1
    this.element.replaceChildren()
    if (levels.length === 0 && receiving) make('span', 'empty', this.element).textContent = texts.dropToGroup
    told.forEach(({ title, bucket, free }, nth) => {
      make('span', 'then', this.element).textContent = nth === 0 ? texts.by : texts.thenBy
      this.element.append(free ? this.step(title, bucket, nth) : fixedStep(title, bucket))
    })
    if (at >= 0) this.stepAt(Math.min(at, levels.length - 1))?.focus()
  }

  private step(title: string, bucket: string, nth: number): HTMLElement {
    const step = make('span', 'step')
    const open = make('button', 'what', step)
    open.type = 'button'
    make('b', '', open).textContent = title
    if (bucket) open.append(` ${bucket}`)
    open.ariaHasPopup = 'dialog'
    open.ariaKeyShortcuts = 'Shift+ArrowLeft Shift+ArrowRight Delete'
    open.onclick = () => this.host.open(nth, open)
    open.onkeydown = event => this.key(event, nth)
    step.onpointerdown = event => {
      if (event.target !== lift) this.host.pressed(this.levels[nth].column, event)
    }
    const lift = make('button', 'lift', step)
    lift.type = 'button'
    lift.textContent = '×'
    lift.ariaLabel = this.texts.lift(`${this.texts.groupedBy} ${title}`)
    lift.onclick = () => this.host.remove(nth)
    return step
  }

  private key(event: KeyboardEvent, nth: number): void {
    const rtl = getComputedStyle(this.element).direction === 'rtl'
    if (event.key === 'Delete' || event.key === 'Backspace') this.host.remove(nth)
    else if (event.shiftKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      const to = nth + ((event.key === 'ArrowRight') !== rtl ? 1 : -1)
      if (to < 0 || to >= this.levels.length) return
      this.host.move(nth, to)
      this.stepAt(to)?.focus()
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
}

function fixedStep(title: string, bucket: string): HTMLElement {
  const step = make('span', 'step')
  const text = make('span', 'what fixed', step)
  make('b', '', text).textContent = title
  if (bucket) text.append(` ${bucket}`)
  return step
}
