import type { Replacing } from '@vast-meadow/engine/editing'
import { make, makeOption } from '../../kernel/dom.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'
import type { ReplacedCell, Replacement } from './replace-cells.ts'

/** Cells that are shown before and after. */
const SHOWN = 7
/** What is typed is looked for when it rests so long. */
const LOOK_AFTER_MS = 150

export interface ReplaceViewHost {
  /** The column's title. */
  readonly title: string
  /** What to look for at first. */
  readonly find: string
  /** How many rows each choice is about, as shown; null: none are selected. */
  readonly counts: { readonly passing: number; readonly selected: number | null }
  readonly most: number
  readonly format: (count: number) => string
  preview(replacing: Replacing, onlySelected: boolean): Promise<Replacement>
  /** What cells show now, and the names of their rows. */
  shown(cells: readonly ReplacedCell[]): Promise<readonly { readonly row: string; readonly before: string }[]>
  apply(replacement: Replacement): Promise<void>
  readonly failed: (error: unknown) => void
}

/** Asks what is to stand instead of what, and shows what will change before it does. */
export function openReplace(
  frame: HTMLElement,
  texts: EditingTexts,
  cancelText: string,
  host: ReplaceViewHost,
): void {
  const dialog = make('dialog', 'confirm replace', frame)
  dialog.setAttribute('part', 'replace')
  const title = make('h2', '', dialog)
  title.textContent = texts.replaceIn(host.title).replace(/\s*…$/, '')
  title.id = 'replace-title'
  dialog.setAttribute('aria-labelledby', title.id)
  const form = make('form', '', dialog)
  const labelled = <T extends HTMLElement>(label: string, field: T): T => {
    const line = make('label', 'field', form)
    make('span', '', line).textContent = label
    field.ariaLabel = label
    line.append(field)
    return field
  }
  const find = labelled(texts.replaceThis, make('input', ''))
  const by = labelled(texts.replaceBy, make('input', ''))
  find.value = host.find
  const box = (label: string): HTMLInputElement => {
    const line = make('label', 'tick', form)
    const made = make('input', '', line)
    made.type = 'checkbox'
    make('span', '', line).textContent = label
    return made
  }
  const whole = box(texts.replaceWhole)
  const matchCase = box(texts.replaceCase)
  const rows = labelled(texts.replaceRows, make('select', ''))
  makeOption(
    rows,
    'passing',
    texts.replaceWhich.passing(host.format(host.counts.passing), host.counts.passing),
  )
  if (host.counts.selected !== null)
    makeOption(
      rows,
      'selected',
      texts.replaceWhich.selected(host.format(host.counts.selected), host.counts.selected),
    )
  const said = make('p', 'replace-said', form)
  said.setAttribute('role', 'status')
  const list = make('ul', 'replace-list', form)
  const choices = make('div', 'choices', form)
  const cancel = make('button', 'button', choices)
  cancel.type = 'button'
  cancel.textContent = cancelText
  const go = make('button', 'button strong', choices)
  go.textContent = texts.replaceNow

  /** Who has not been there yet has not said that nothing is to stand instead. */
  let isSaid = false
  let newest = 0
  let timer = 0
  let ready: Replacement | null = null

  async function show(told: Replacement | null): Promise<void> {
    const { format } = host
    const tooMany = told !== null && told.found > host.most
    ready = told && !tooMany && told.cells.length > 0 ? told : null
    go.disabled = ready === null || !isSaid
    list.replaceChildren()
    if (!told) {
      said.textContent = ''
      return
    }
    if (tooMany) {
      said.textContent = texts.replaceTooMany(format(told.found), format(host.most), told.found)
      return
    }
    said.textContent = [
      told.found === 0
        ? texts.replaceNone
        : texts.replacePreview(format(told.cells.length), told.cells.length),
      told.wrong > 0 && texts.replaceWrong(format(told.wrong), told.wrong),
      told.fixed > 0 && texts.replaceFixed(format(told.fixed), told.fixed),
    ]
      .filter(Boolean)
      .join(' ')
    // What would not be right is seen first.
    const wrong = told.cells.filter(one => one.isWrong).slice(0, SHOWN)
    const first = [...wrong, ...told.cells.filter(one => !one.isWrong).slice(0, SHOWN - wrong.length)]
    const mine = newest
    const were = await host.shown(first)
    if (mine !== newest) return
    for (const [nth, cell] of first.entries()) {
      const { row, before } = were[nth]
      const item = make('li', cell.isWrong ? 'wrong' : '', list)
      if (row !== '') make('b', '', item).textContent = row
      make('s', '', item).textContent = before === '' ? texts.nothingThere : before
      make('span', '', item).textContent = cell.text === '' ? texts.nothingThere : cell.text
    }
    if (told.cells.length > SHOWN)
      make('li', 'more', list).textContent = texts.replaceMore(
        format(told.cells.length - SHOWN),
        told.cells.length - SHOWN,
      )
  }

  async function look(): Promise<void> {
    const mine = ++newest
    const replacing = {
      find: find.value,
      by: by.value,
      whole: whole.checked,
      matchCase: matchCase.checked,
    }
    if (replacing.find === '' && !replacing.whole) {
      await show(null)
      return
    }
    const told = await host.preview(replacing, rows.value === 'selected')
    if (mine === newest) await show(told)
  }
  function lookSoon(): void {
    newest++
    ready = null
    go.disabled = true
    clearTimeout(timer)
    timer = window.setTimeout(() => void look().catch(host.failed), LOOK_AFTER_MS)
  }
  by.addEventListener('focus', () => {
    isSaid = true
    go.disabled = ready === null
  })
  form.addEventListener('input', lookSoon)
  form.addEventListener('submit', event => {
    event.preventDefault()
    const told = isSaid ? ready : null
    if (!told) {
      by.focus()
      return
    }
    dialog.close()
    host.apply(told).catch(host.failed)
  })
  cancel.onclick = () => dialog.close()
  // What is typed here means nothing to the grid.
  dialog.addEventListener('keydown', event => event.stopPropagation())
  dialog.onclose = () => {
    clearTimeout(timer)
    newest++
    dialog.remove()
  }
  void show(null)
  dialog.showModal()
  find.focus()
  find.select()
  if (host.find !== '') lookSoon()
}
