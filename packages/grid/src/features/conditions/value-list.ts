import { fold } from '@vast-meadow/engine/client'
import type { Condition, ConditionPart, Facets, ValueCount } from '@vast-meadow/engine'
import { focusedBeside, make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

export interface ValueListHost {
  /** Values with counts, those whose text holds `holding`. */
  facets(holding: string): Promise<Facets | null>
  condition(): Condition | null
  set(condition: Condition | null): void
  format(count: number): string
}

/** Numbers that are listed although a range can be chosen: a handful of codes or counts. */
const MOST_BESIDE_RANGE = 24

type Listing = Extract<ConditionPart, { kind: 'one-of' }>

const isListing = (part: ConditionPart): part is Listing => part.kind === 'one-of'

/** Values that occur, with their counts under everything else that is asked; ticking them makes a list to be one of. */
export class ValueList {
  readonly element = make('div', 'values')
  private readonly find: HTMLInputElement
  private readonly list: HTMLElement
  private readonly texts: Texts
  private readonly host: ValueListHost
  private facets: Facets | null = null
  private asked = 0
  private besideRange = false
  private timer = 0

  constructor(texts: Texts, host: ValueListHost) {
    this.texts = texts
    this.host = host
    this.find = make('input', 'search', this.element)
    this.find.type = 'search'
    this.find.placeholder = this.find.ariaLabel = texts.findValue
    this.list = make('ul', '', this.element)
    this.find.oninput = () => {
      clearTimeout(this.timer)
      this.timer = window.setTimeout(() => void this.load(this.besideRange), 60)
    }
  }

  /** Asks for values and counts anew. `besideRange`: a range says more than a long list of numbers would. */
  async load(besideRange: boolean): Promise<void> {
    this.besideRange = besideRange
    const mine = ++this.asked
    const facets = await this.host.facets(this.find.value.trim())
    if (mine !== this.asked || !facets) return
    this.facets = facets
    const { distinct } = facets
    const long = this.besideRange && (distinct ?? Infinity) > MOST_BESIDE_RANGE && this.find.value === ''
    this.element.hidden = long || (facets.values.length === 0 && distinct === null)
    if (this.element.hidden) {
      this.list.replaceChildren()
      return
    }
    this.find.hidden = (facets.distinct ?? 0) <= 8 && this.find.value === ''
    this.fill()
  }

  /** Shows which values are ticked. */
  update(): void {
    if (!this.element.hidden) this.fill()
  }

  private fill(): void {
    if (!this.facets) return
    const { values, missing, distinct } = this.facets
    const focused = focusedBeside(this.list)?.dataset.value
    const most = Math.max(1, ...values.map(({ count }) => count), missing)
    const ticked = this.ticked()
    this.list.replaceChildren(...values.map(value => this.item(value, most, ticked(value))))
    if (missing > 0 && this.find.value === '') this.list.append(this.missingItem(missing, most))
    const more = (distinct ?? 0) - values.length
    if (more > 0 && this.find.value === '')
      make('li', 'more', this.list).textContent = this.texts.moreValues(this.host.format(more), more)
    if (values.length === 0 && missing === 0) make('li', 'more', this.list).textContent = this.texts.noValue
    if (focused) this.list.querySelector<HTMLElement>(`[data-value="${CSS.escape(focused)}"]`)?.focus()
  }

  private item({ value, shown, count }: ValueCount, most: number, checked: boolean): HTMLElement {
    return this.line(
      shown,
      `v:${String(value)}`,
      count,
      most,
      checked,
      on => value !== null && this.tick(value, on),
    )
  }

  private missingItem(count: number, most: number): HTMLElement {
    const checked = this.host.condition()?.parts.some(({ kind }) => kind === 'missing') ?? false
    const item = this.line(this.texts.missing, 'missing', count, most, checked, on => this.tickMissing(on))
    item.classList.add('none')
    return item
  }

  private line(
    text: string,
    name: string,
    count: number,
    most: number,
    checked: boolean,
    tick: (on: boolean) => void,
  ): HTMLElement {
    const item = make('li')
    const label = make('label', '', item)
    const box = make('input', '', label)
    box.type = 'checkbox'
    box.checked = checked
    box.dataset.value = name
    box.onchange = () => tick(box.checked)
    make('span', '', label).textContent = text
    const bar = make('i', '', label)
    bar.style.setProperty('--share', String(count / most))
    make('small', '', label).textContent = this.host.format(count)
    return item
  }

  private ticked(): (value: ValueCount) => boolean {
    const part = this.host.condition()?.parts.find(isListing)
    if (!part) return () => false
    const same = (text: string | number | boolean): string => (part.exact ? String(text) : fold(String(text)))
    const wanted = new Set(part.values.map(same))
    return ({ value }) => value !== null && wanted.has(same(value))
  }

  /** Ticks a value. Where another value differs from it by case or accents alone, the list takes them exactly. */
  private tick(value: string | number | boolean, on: boolean): void {
    const condition = this.host.condition()
    const parts = condition?.parts ?? []
    const part = parts.find(isListing)
    const values = (part?.values ?? []).filter(other => other !== value)
    if (on) values.push(value)
    const folded = (this.facets?.values ?? []).map(({ shown }) => fold(shown))
    const alike = new Set(folded).size < folded.length
    const exact = part?.exact || (alike && typeof value === 'string') ? { exact: true } : {}
    const listing: Listing[] = values.length > 0 ? [{ kind: 'one-of', values, ...exact }] : []
    const others = parts.filter(other => other !== part)
    this.tell([...listing, ...others], condition?.match)
  }

  private tickMissing(on: boolean): void {
    const condition = this.host.condition()
    const others = (condition?.parts ?? []).filter(({ kind }) => kind !== 'missing')
    // Values or none at all: a row cannot have both.
    this.tell(on ? [...others, { kind: 'missing' }] : others, on ? 'any' : condition?.match)
  }

  private tell(parts: ConditionPart[], match: Condition['match'] = 'all'): void {
    this.host.set(parts.length > 0 ? { match: parts.length > 1 ? match : 'all', parts } : null)
  }
}
