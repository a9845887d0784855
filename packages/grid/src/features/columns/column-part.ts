import { placeBeside, partOf } from '@vast-meadow/engine/client'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'

const PARTS = ['middle', 'start', 'end'] as const

export interface ColumnPartHost {
  move(column: string, step: 1 | -1): void
  fit(column: string): void
}

/** What a column's card says of its place: it is moved, pinned and hidden. */
export function columnPart(
  column: string,
  { model, texts, announcer, navigator, screen }: Kernel,
  host: ColumnPartHost,
  close: () => void,
): HTMLElement {
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
      button.onclick = () => host.move(column, step)
    }
    const edge = make('label', 'field', part)
    make('span', '', edge).textContent = texts.pinned
    const pin = make('select', '', edge)
    pin.ariaLabel = texts.pinOf(title)
    pin.dataset.control = 'pin'
    for (const side of PARTS) makeOption(pin, side, texts.pinnedAt[side])
    pin.value = partOf(model.arrangement, column)
    pin.onchange = () => {
      const side = PARTS.find(one => one === pin.value)
      if (side) model.moveColumn(column, { part: side, before: null })
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
    const { columns } = screen
    const beside = columns[columns.indexOf(column) + 1] ?? columns[columns.indexOf(column) - 1]
    model.showColumn(column, hidden)
    if (hidden) return
    close()
    announcer.say(texts.isHidden(title))
    if (beside) navigator.go(ABOVE_LINES, beside)
  }
  return part
}
