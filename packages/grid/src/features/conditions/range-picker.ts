import type { Condition, ConditionPart, Facets, Field } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface RangePickerHost {
  readonly field: Field
  condition(): Condition | null
  set(condition: Condition | null): void
  /** Writes a value of the column. */
  show(value: number): string
  /** The number that an end of a range stands for; null where it is none. */
  numberOf(end: string | number | undefined, upper: boolean): number | null
}

type Range = Extract<ConditionPart, { kind: 'range' }>

const isRange = (part: ConditionPart): part is Range => part.kind === 'range'
/** Steps of an arrow key and of a page key over the whole extent. */
const STEPS = 100
const LARGE = 10
const DAY_MS = 86_400_000

/** How a column's numbers are spread, and two handles that choose a range of them. */
export class RangePicker {
  readonly element = make('div', 'range')
  private readonly plot: HTMLElement
  private readonly bars: HTMLElement
  private readonly handles: Record<'from' | 'to', HTMLElement>
  private readonly host: RangePickerHost
  /** Of all values; until they are known the picker is hidden. */
  private extent = { low: 0, high: 0 }
  private held: { end: 'from' | 'to'; value: number } | null = null

  constructor(texts: Texts, host: RangePickerHost) {
    this.host = host
    this.element.hidden = true
    this.plot = make('div', 'plot', this.element)
    this.bars = make('div', 'bars', this.plot)
    this.bars.ariaHidden = 'true'
    this.handles = { from: this.handle('from', texts.from), to: this.handle('to', texts.to) }
  }

  show({ low, high, histogram }: Facets): void {
    this.element.hidden = true
    if (low === null || high === null || low === high || this.host.field.type === 'time') return
    this.element.hidden = false
    this.extent = { low, high }
    const most = Math.max(1, ...histogram)
    this.bars.replaceChildren(
      ...histogram.map(rows => {
        const bar = make('i')
        bar.style.setProperty('--share', String(rows / most))
        return bar
      }),
    )
    this.update()
  }

  /** Puts handles and bars where the condition says. */
  update(): void {
    if (this.element.hidden) return
    const { low, high } = this.extent
    const from = this.end('from')
    const to = this.end('to')
    for (const end of ['from', 'to'] as const) {
      const handle = this.handles[end]
      const value = end === 'from' ? from : to
      handle.style.insetInlineStart = `${((value - low) / (high - low)) * 100}%`
      handle.setAttribute('aria-valuemin', String(low))
      handle.setAttribute('aria-valuemax', String(high))
      handle.setAttribute('aria-valuenow', String(value))
      handle.setAttribute('aria-valuetext', this.host.show(value))
    }
    const step = (high - low) / this.bars.childElementCount
    ;[...this.bars.children].forEach((bar, i) => {
      const middle = low + (i + 0.5) * step
      bar.classList.toggle('in', middle >= from && middle <= to)
    })
  }

  /** Where an end stands, within the extent; the extent's own where none is asked. */
  private end(end: 'from' | 'to'): number {
    const { low, high } = this.extent
    if (this.held?.end === end) return this.held.value
    const part = this.host.condition()?.parts.find(isRange)
    const asked = part ? this.host.numberOf(part[end], end === 'to') : null
    return Math.max(low, Math.min(high, asked ?? (end === 'from' ? low : high)))
  }

  private handle(end: 'from' | 'to', name: string): HTMLElement {
    const handle = make('span', `handle ${end}`, this.plot)
    handle.tabIndex = 0
    handle.setAttribute('role', 'slider')
    handle.ariaLabel = name
    handle.addEventListener('keydown', event => this.key(event, end))
    handle.addEventListener('pointerdown', event => {
      handle.setPointerCapture(event.pointerId)
      handle.focus()
      event.preventDefault()
      this.held = { end, value: this.end(end) }
    })
    handle.addEventListener('pointermove', event => {
      if (!handle.hasPointerCapture(event.pointerId) || !this.held) return
      this.held = { end, value: this.within(end, this.valueAt(event.clientX)) }
      this.tell(end, this.held.value)
      this.update()
    })
    const release = (): void => {
      this.held = null
      this.update()
    }
    handle.addEventListener('pointerup', release)
    handle.addEventListener('pointercancel', release)
    return handle
  }

  private valueAt(x: number): number {
    const { left, right } = this.plot.getBoundingClientRect()
    const rtl = getComputedStyle(this.plot).direction === 'rtl'
    const share = Math.max(0, Math.min(1, rtl ? (right - x) / (right - left) : (x - left) / (right - left)))
    const { low, high } = this.extent
    return low + share * (high - low)
  }

  /** An end does not pass the other one. */
  private within(end: 'from' | 'to', value: number): number {
    return end === 'from' ? Math.min(value, this.end('to')) : Math.max(value, this.end('from'))
  }

  private key(event: KeyboardEvent, end: 'from' | 'to'): void {
    const { low, high } = this.extent
    const rtl = getComputedStyle(this.plot).direction === 'rtl'
    const whole = this.host.field.type !== 'number'
    const step = Math.max(
      (high - low) / STEPS,
      whole ? (this.host.field.type === 'datetime' ? DAY_MS : 1) : 0,
    )
    const moves: Readonly<Record<string, number>> = {
      ArrowRight: rtl ? -step : step,
      ArrowLeft: rtl ? step : -step,
      ArrowUp: step,
      ArrowDown: -step,
      PageUp: step * LARGE,
      PageDown: -step * LARGE,
      Home: -Infinity,
      End: Infinity,
    }
    const by = moves[event.key]
    if (by === undefined) return
    event.preventDefault()
    event.stopPropagation()
    const value = Math.max(low, Math.min(high, this.end(end) + by))
    this.tell(end, this.within(end, value))
    this.update()
  }

  /** Sets an end; one that lies at the edge of all values is open. */
  private tell(end: 'from' | 'to', value: number): void {
    const { low, high } = this.extent
    const condition = this.host.condition()
    const part = condition?.parts.find(isRange)
    const edge = end === 'from' ? value <= low : value >= high
    const { [end]: _before, ...rest } = part ?? { kind: 'range' as const }
    const range: Range = { ...rest, kind: 'range', ...(edge ? {} : { [end]: this.rounded(value, end) }) }
    const ranges: Range[] = range.from === undefined && range.to === undefined ? [] : [range]
    const others = (condition?.parts ?? []).filter(other => other !== part)
    const parts = [...ranges, ...others]
    this.host.set(parts.length > 0 ? { match: condition?.match ?? 'all', parts } : null)
  }

  /** As fine as the extent asks: two digits beyond its size; dates by days. */
  private rounded(value: number, end: 'from' | 'to'): number | string {
    const { type } = this.host.field
    const round = end === 'from' ? Math.floor : Math.ceil
    if (type === 'date') return new Date(Math.round(value) * DAY_MS).toISOString().slice(0, 10)
    if (type === 'datetime') return new Date(value).toISOString().slice(0, 10)
    if (type === 'integer') return round(value)
    const { low, high } = this.extent
    const unit = 10 ** (Math.floor(Math.log10(high - low)) - 2)
    const digits = Math.max(0, Math.min(20, -Math.floor(Math.log10(unit))))
    return Number((round(value / unit) * unit).toFixed(digits))
  }
}
