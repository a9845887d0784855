import type { Level, LevelGroups } from '@vast-meadow/engine'
import { keepKey, make, makeOption, type Disposal } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { Popup } from '../../kernel/popup.ts'
import { BucketFields } from './bucket-fields.ts'
import { KeepFields } from './keep-fields.ts'
import { measureName, measuresOf } from './measure-words.ts'

/** Groups that are listed. */
const LISTED = 12

export interface LevelCardHost {
  levels(): readonly Level[]
  change(nth: number, level: Level): void
  move(from: number, to: number): void
  remove(nth: number): void
  /** Gives the keyboard back to a step of the trail. */
  leave(nth: number): void
  /** The groups that levels would make, at the last of them. */
  preview(levels: readonly Level[], most: number): Promise<LevelGroups | undefined>
}

interface Made {
  readonly element: HTMLElement
  readonly popup: Popup
}

/** One level of groups: what falls into one, their order, which are kept; with the groups that this makes, as it is set. */
export class LevelCard {
  private readonly kernel: Kernel
  private readonly host: LevelCardHost
  private readonly disposal: Disposal
  private made_: Made | null = null
  private open_: { readonly nth: number; readonly list: HTMLElement } | null = null

  constructor(kernel: Kernel, host: LevelCardHost, disposal: Disposal) {
    this.kernel = kernel
    this.host = host
    this.disposal = disposal
  }

  /** It is made when it is first opened. */
  private made(): Made {
    if (this.made_) return this.made_
    const { kernel, disposal } = this
    const element = make('div', 'card level-card', kernel.frame)
    element.setAttribute('role', 'dialog')
    element.setAttribute('part', 'card')
    const popup = new Popup(element, { place: 'under', outside: () => this.close(false) }, disposal)
    disposal.listen(element, 'keydown', event => {
      if (event.key === 'Escape') {
        event.preventDefault()
        this.close(true)
      }
      keepKey(event)
    })
    return (this.made_ = { element, popup })
  }

  /** The level that is open; −1: none. */
  get nth(): number {
    return this.open_?.nth ?? -1
  }

  async open(nth: number, anchor: HTMLElement): Promise<void> {
    if (this.open_?.nth === nth) {
      this.close(true)
      return
    }
    const level = this.host.levels().at(nth)
    if (!level) return
    const fields = this.fill(nth, level)
    void this.kernel.model.bucketFor(level.column).then(usual => (fields.usual = usual))
    this.made().popup.show(anchor)
    this.made().element.querySelector<HTMLElement>('select')?.focus()
    await this.load()
  }

  close(back: boolean): void {
    if (!this.open_) return
    const { nth } = this.open_
    this.open_ = null
    this.made().popup.hide()
    this.made().element.replaceChildren()
    if (back) this.host.leave(nth)
  }

  /** Lists the groups that the level makes now. */
  async load(): Promise<void> {
    const { open_: open } = this
    if (!open) return
    const levels = this.host.levels()
    if (open.nth >= levels.length) {
      this.close(false)
      return
    }
    const told = await this.host.preview(levels.slice(0, open.nth + 1), LISTED)
    if (told && this.open_ === open) this.list(open.list, told)
  }

  private fill(nth: number, level: Level): BucketFields {
    const { kernel } = this
    const { element } = this.made()
    const { model, texts } = kernel
    const title = model.titleOf(level.column)
    element.replaceChildren()
    element.ariaLabel = texts.level(title)
    const head = make('div', 'card-head', element)
    make('b', '', head).textContent = texts.level(title)
    this.button('remove', '×', texts.close, head).onclick = () => this.close(true)
    const type = model.fieldOf(level.column)?.type ?? 'text'
    const current = (): Level => this.host.levels()[nth] ?? level
    const change = (part: Partial<Level>): void => this.host.change(nth, { ...current(), ...part })
    const fields = new BucketFields(
      level.bucket,
      { type, kinds: model.bucketKindsOf(level.column) },
      texts,
      bucket => change({ bucket }),
    )
    element.append(fields.element)
    this.orderFields(level, change)
    if (kernel.model.canKeepGroups)
      element.append(new KeepFields(level.keep, kernel, keep => change({ keep })).element)
    const list = make('div', 'preview', element)
    list.ariaLive = 'polite'
    const foot = make('div', 'card-foot', element)
    const moved = (to: number): void => {
      this.close(false)
      this.host.move(nth, to)
      this.host.leave(to)
    }
    const earlier = this.button('button', '‹', texts.levelEarlier, foot)
    earlier.disabled = nth === 0
    earlier.onclick = () => moved(nth - 1)
    const later = this.button('button', '›', texts.levelLater, foot)
    later.disabled = nth + 1 >= this.host.levels().length
    later.onclick = () => moved(nth + 1)
    const remove = this.button('button', texts.removeLevel, '', foot)
    remove.onclick = () => {
      this.close(false)
      this.host.remove(nth)
    }
    this.open_ = { nth, list }
    return fields
  }

  private orderFields(level: Level, change: (part: Partial<Level>) => void): void {
    const { kernel } = this
    const { texts, model } = kernel
    const line = make('div', 'field', this.made().element)
    make('span', '', line).textContent = texts.groupOrder
    const pick = make('select', '', line)
    pick.ariaLabel = texts.groupOrder
    const { by } = level.order
    const measures = measuresOf(model, [typeof by === 'object' ? by : undefined])
    const options: { readonly by: Level['order']['by']; readonly text: string }[] = [
      { by: 'key', text: texts.groupOrderKey },
      { by: 'shown', text: texts.groupOrderShown },
      ...measures.map(measure => ({ by: measure, text: measureName(measure, kernel) })),
    ]
    options.forEach(({ text }, at) => makeOption(pick, String(at), text))
    pick.value = String(
      Math.max(
        0,
        options.findIndex(option => JSON.stringify(option.by) === JSON.stringify(by)),
      ),
    )
    const down = make('button', 'button direction', line)
    down.type = 'button'
    const missingLine = make('label', 'check-line indented', this.made().element)
    const first = make('input', '', missingLine)
    first.type = 'checkbox'
    first.checked = level.order.missing === 'first'
    missingLine.append(` ${texts.missingFirst}`)
    let { direction } = level.order
    const tell = (): void => {
      down.textContent = direction === 'ascending' ? '↑' : '↓'
      down.ariaLabel = texts[direction]
    }
    const apply = (): void => {
      const missing = first.checked ? 'first' : 'last'
      change({ order: { by: options[Number(pick.value)].by, direction, missing } })
      tell()
    }
    pick.onchange = () => {
      // Whoever orders by a measure wants the greatest first.
      direction = typeof options[Number(pick.value)].by === 'string' ? 'ascending' : 'descending'
      apply()
    }
    down.onclick = () => {
      direction = direction === 'ascending' ? 'descending' : 'ascending'
      apply()
    }
    first.onchange = apply
    tell()
  }

  private list(element: HTMLElement, { count, groups }: LevelGroups): void {
    const { texts, format } = this.kernel
    element.replaceChildren()
    make('small', '', element).textContent = texts.groupsPreview(format(count), count)
    const list = make('ul', '', element)
    const most = Math.max(1, ...groups.map(({ rows }) => rows))
    for (const { shown, value, rest, rows } of groups) {
      const item = make('li', '', list)
      const bar = make('i', '', item)
      bar.ariaHidden = 'true'
      bar.style.inlineSize = `${(rows / most) * 100}%`
      make('span', '', item).textContent = rest ? texts.restOfGroups : value === null ? texts.missing : shown
      make('b', '', item).textContent = format(rows)
    }
    if (count > groups.length)
      make('small', '', element).textContent = texts.moreGroups(
        format(count - groups.length),
        count - groups.length,
      )
    this.made().popup.place()
  }

  private button(className: string, text: string, label: string, parent: HTMLElement): HTMLButtonElement {
    const button = make('button', className, parent)
    button.type = 'button'
    button.textContent = text
    if (label) button.ariaLabel = button.title = label
    return button
  }
}
