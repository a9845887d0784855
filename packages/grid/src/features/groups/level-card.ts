import type { GroupMeasure, Keep, Level, LevelGroups } from '@vast-meadow/engine'
import { keepKey, make, type Disposal } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { Popup } from '../../kernel/popup.ts'
import { BucketFields } from './bucket-fields.ts'
import { leastOf } from './least-of.ts'
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
    const fields = new BucketFields(level.bucket, type, texts, bucket => change({ bucket }))
    element.append(fields.element)
    this.orderFields(level, change)
    this.keepFields(level, keep => change({ keep }))
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
      ...measures.map(measure => ({ by: measure, text: measureName(measure, kernel) })),
    ]
    this.options(
      pick,
      options.map(({ text }) => text),
    )
    pick.value = String(
      Math.max(
        0,
        options.findIndex(option => JSON.stringify(option.by) === JSON.stringify(by)),
      ),
    )
    const down = make('button', 'button direction', line)
    down.type = 'button'
    let { direction } = level.order
    const tell = (): void => {
      down.textContent = direction === 'ascending' ? '↑' : '↓'
      down.ariaLabel = texts[direction]
    }
    const apply = (): void => {
      change({ order: { ...level.order, by: options[Number(pick.value)].by, direction } })
      tell()
    }
    pick.onchange = () => {
      // Whoever orders by a measure wants the greatest first.
      direction = pick.value === '0' ? 'ascending' : 'descending'
      apply()
    }
    down.onclick = () => {
      direction = direction === 'ascending' ? 'descending' : 'ascending'
      apply()
    }
    tell()
  }

  private keepFields(level: Level, keep: (keep: Keep | undefined) => void): void {
    const { kernel } = this
    const { texts, model } = kernel
    const box = make('fieldset', 'keep', this.made().element)
    make('legend', '', box).textContent = texts.keepGroups
    const [least, leastOn] = this.checkedNumber(box, texts.keepLeast, leastOf(level.keep), 2)
    make('span', '', sureParent(least)).textContent = texts.rows
    const [most, mostOn] = this.checkedNumber(box, texts.keepMost, level.keep?.most?.count ?? null, 10)
    const by = make('div', 'field indented', box)
    make('span', '', by).textContent = texts.keepBy
    const pick = make('select', '', by)
    pick.ariaLabel = `${texts.keepMost} ${texts.keepBy}`
    const measures = measuresOf(model, [level.keep?.most?.of])
    this.options(
      pick,
      measures.map(measure => measureName(measure, kernel)),
    )
    const at = measures.findIndex(measure => JSON.stringify(measure) === JSON.stringify(level.keep?.most?.of))
    pick.value = String(Math.max(0, at))
    const restLine = make('label', 'check-line indented', box)
    const rest = make('input', '', restLine)
    rest.type = 'checkbox'
    rest.checked = level.keep?.most?.rest === 'together'
    restLine.append(` ${texts.keepRest}`)
    const apply = (): void => {
      const of: GroupMeasure = measures[Number(pick.value)] ?? 'size'
      const others = level.keep?.where.filter(({ of: measure }) => measure !== 'size') ?? []
      const asked: Keep['where'] = leastOn.checked
        ? [
            ...others,
            { of: 'size', condition: { match: 'all', parts: [{ kind: 'at-least', value: count(least) }] } },
          ]
        : others
      const kept: Keep['most'] = mostOn.checked
        ? {
            count: count(most),
            of,
            direction: level.keep?.most?.direction ?? 'descending',
            rest: rest.checked ? 'together' : 'out',
          }
        : undefined
      keep(asked.length > 0 || kept ? { where: asked, ...(kept ? { most: kept } : {}) } : undefined)
    }
    for (const input of [least, leastOn, most, mostOn, pick, rest]) input.addEventListener('change', apply)
  }

  private checkedNumber(
    box: HTMLElement,
    label: string,
    value: number | null,
    usual: number,
  ): [HTMLInputElement, HTMLInputElement] {
    const line = make('div', 'field', box)
    const check = make('label', 'check-line', line)
    const on = make('input', '', check)
    on.type = 'checkbox'
    on.checked = value !== null
    check.append(` ${label}`)
    const input = make('input', 'short', line)
    input.type = 'number'
    input.min = '1'
    input.value = String(value ?? usual)
    input.ariaLabel = label
    input.addEventListener('input', () => (on.checked = true))
    return [input, on]
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
      make('small', '', element).textContent = texts.moreGroups(format(count - groups.length))
    this.made().popup.place()
  }

  private options(pick: HTMLSelectElement, texts: readonly string[]): void {
    texts.forEach((text, at) => {
      const option = make('option', '', pick)
      option.value = String(at)
      option.textContent = text
    })
  }

  private button(className: string, text: string, label: string, parent: HTMLElement): HTMLButtonElement {
    const button = make('button', className, parent)
    button.type = 'button'
    button.textContent = text
    if (label) button.ariaLabel = button.title = label
    return button
  }
}

const count = (input: HTMLInputElement): number => Math.max(1, Math.round(Number(input.value) || 1))
const sureParent = (element: HTMLElement): HTMLElement => element.parentElement ?? element
