import type { ColumnPlace } from '@vast-meadow/engine'
import { placeBeside, partOf, shownColumns } from '@vast-meadow/engine/client'
import { make, makeOption } from '../../kernel/dom.ts'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'
import type { Texts } from '../../kernel/texts.ts'

const PARTS = ['middle', 'start', 'end'] as const

export interface ColumnPartHost {
  move(columns: readonly string[], step: 1 | -1): void
  put(columns: readonly string[], place: ColumnPlace): boolean
  fit(column: string): void
}

/** What a column's card says of its place: it is moved, pinned and hidden. */
export function columnPart(
  column: string,
  kernel: Kernel,
  host: ColumnPartHost,
  close: () => void,
): HTMLElement {
  const { model, texts } = kernel
  const title = model.titleOf(column)
  const part = make('div', 'place')
  const line = make('div', 'field', part)
  make('span', '', line).textContent = texts.column
  const hidden = model.arrangement.hidden.includes(column)
  if (model.canMove(column) && !hidden) {
    for (const step of [-1, 1] as const) {
      const button = make('button', 'button', line)
      button.type = 'button'
      button.textContent = step === -1 ? '‹' : '›'
      button.ariaLabel = step === -1 ? texts.towardsStart(title) : texts.towardsEnd(title)
      button.dataset.control = `move ${step}`
      button.disabled = placeBeside(model.arrangement, column, step) === null
      button.onclick = () => host.move([column], step)
    }
    const over = sharedOver(column, model)
    if (over) part.append(sharedPart(over, texts, host))
    const edge = make('label', 'field', part)
    make('span', '', edge).textContent = texts.pinned
    const pin = make('select', '', edge)
    pin.ariaLabel = texts.pinOf(title)
    pin.dataset.control = 'pin'
    for (const side of PARTS) makeOption(pin, side, texts.pinnedAt[side])
    pin.value = partOf(model.arrangement, column)
    pin.onchange = () => {
      const side = PARTS.find(one => one === pin.value)
      if (side && !host.put([column], { part: side, before: null }))
        pin.value = partOf(model.arrangement, column)
    }
  }
  if (!hidden && model.canTell('longestTexts')) {
    const fit = make('button', 'button', line)
    fit.type = 'button'
    fit.textContent = texts.fit
    fit.ariaLabel = texts.fitOf(title)
    fit.dataset.control = 'fit'
    fit.onclick = () => host.fit(column)
  }
  const hide = make('button', 'button', line)
  hide.type = 'button'
  hide.textContent = hidden ? texts.show(title) : texts.hide
  hide.dataset.control = 'hide'
  hide.onclick = () => {
    if (hidden) model.showColumn(column, true)
    else {
      close()
      hideColumn(column, kernel)
    }
  }
  return part
}

/** Hides a column; the keyboard goes to the heading beside it. */
export function hideColumn(column: string, { model, texts, announcer, navigator, screen }: Kernel): void {
  const { columns } = screen
  const beside = columns[columns.indexOf(column) + 1] ?? columns[columns.indexOf(column) - 1]
  model.showColumn(column, false)
  announcer.say(texts.isHidden(model.titleOf(column)))
  if (beside) navigator.go(ABOVE_LINES, beside)
}

interface SharedOver {
  readonly title: string
  readonly columns: readonly string[]
}

/** The innermost shared heading over a column, and its neighbours under it; null: it stands under none. */
function sharedOver(column: string, model: GridModel): SharedOver | null {
  const { definition, arrangement } = model
  const key = model.columnOf(column)?.under
  const heading = definition?.headings.find(one => one.key === key)
  if (!definition || !heading) return null
  const there = shownColumns(arrangement)[partOf(arrangement, column)]
  const isUnder = (at: number): boolean => model.columnOf(there[at] ?? '')?.under === key
  let [first, end] = [there.indexOf(column), there.indexOf(column) + 1]
  while (isUnder(first - 1)) first--
  while (isUnder(end)) end++
  return { title: heading.title, columns: there.slice(first, end) }
}

/** All columns under a shared heading are moved at once. */
function sharedPart({ title, columns }: SharedOver, texts: Texts, host: ColumnPartHost): HTMLElement {
  const line = make('div', 'field')
  make('span', '', line).textContent = texts.under
  make('b', 'shared-title', line).textContent = title
  for (const step of [-1, 1] as const) {
    const button = make('button', 'button', line)
    button.type = 'button'
    button.textContent = step === -1 ? '‹' : '›'
    button.ariaLabel = step === -1 ? texts.towardsStart(title) : texts.towardsEnd(title)
    button.dataset.control = `move shared ${step}`
    button.onclick = () => host.move(columns, step)
  }
  return line
}
