import {
  actionKey,
  actionShownKey,
  speaksOfSelection,
  tagsOf,
  whenSelected,
} from '@vast-meadow/engine/client'
import type { CellDefinition, RowId, Value } from '@vast-meadow/engine'
import type { ActionState } from '../kernel/action-states.ts'
import { make } from '../kernel/dom.ts'
import type { CellPainter, PaintedCell } from '../painter.ts'
import { linkAddress, mailAddress, pictureAddress } from './safe-address.ts'

type Kind = CellDefinition['kind']
type Of<K extends Kind> = Extract<CellDefinition, { kind: K }>

/** What the built-in cells ask of their grid. */
export interface CellHost {
  /** How it stands with an action on a row; null: it can be pressed. */
  actionState(row: RowId, column: string, action: string): ActionState | null
  /** Least and greatest value of a column of numbers; null while they are not known. */
  extent(column: string): { readonly low: number; readonly high: number } | null
  /** Says that a picture cannot be had from an address. */
  noPicture(address: string): string
}

const textOf = (value: Value): string => (value === null ? '' : String(value))

function checkCell(): CellPainter<HTMLElement> {
  return {
    create(cell) {
      const mark = make('i', 'check', cell)
      mark.setAttribute('role', 'img')
      return mark
    },
    update(mark, { value, text }) {
      const state = value === null ? '' : value === true ? 'yes' : 'no'
      if (mark.dataset.state === state && mark.ariaLabel === text) return
      mark.dataset.state = state
      mark.ariaLabel = text
    },
  }
}

function tagsCell({ tone = 'stone' }: Of<'tags'>): CellPainter<{ cell: HTMLElement; shown: string }> {
  return {
    create: cell => ({ cell, shown: '' }),
    update(state, { value }) {
      const json = typeof value === 'string' ? value : '[]'
      if (state.shown === json) return
      state.shown = json
      const tags = tagsOf(json).map(text => {
        const tag = make('span', 'tag')
        tag.dataset.tone = tone
        tag.textContent = text
        return tag
      })
      // A blank between them, so that they are not read as one word.
      state.cell.replaceChildren(...tags.flatMap((tag, i) => (i === 0 ? [tag] : [' ', tag])))
    },
  }
}

function linked(
  addressOf: (cell: PaintedCell) => string | null,
  dress: (link: HTMLAnchorElement) => void,
): CellPainter<HTMLAnchorElement> {
  return {
    create(cell) {
      const link = make('a', 'link', cell)
      link.tabIndex = -1
      dress(link)
      return link
    },
    update(link, cell) {
      if (link.textContent !== cell.text) link.textContent = cell.text
      const address = addressOf(cell)
      if (address === null) link.removeAttribute('href')
      else if (link.getAttribute('href') !== address) link.setAttribute('href', address)
    },
  }
}

const linkCell = ({ address }: Of<'link'>): CellPainter =>
  linked(
    cell => linkAddress(textOf(address === undefined ? cell.value : cell.valueOf(address))),
    link => {
      link.target = '_blank'
      link.rel = 'noopener noreferrer'
    },
  )

const mailCell = ({ address }: Of<'mail'>): CellPainter =>
  linked(
    cell => mailAddress(textOf(address === undefined ? cell.value : cell.valueOf(address))),
    () => {},
  )

function pictureCell(
  { width, height, round, alt }: Of<'picture'>,
  host: CellHost,
): CellPainter<HTMLImageElement> {
  /** Where a picture cannot be had its place says so; null: it is there, or none is wanted. */
  const tellBroken = (picture: HTMLImageElement, address: string | null): void => {
    picture.classList.toggle('broken', address !== null)
    picture.title = address === null ? '' : host.noPicture(address)
  }
  return {
    create(cell) {
      const picture = make('img', round ? 'picture round' : 'picture', cell)
      picture.loading = 'lazy'
      picture.decoding = 'async'
      picture.width = width
      picture.height = height
      picture.alt = ''
      picture.referrerPolicy = 'no-referrer'
      picture.onerror = () => tellBroken(picture, picture.getAttribute('src'))
      return picture
    },
    update(picture, cell) {
      const address = pictureAddress(textOf(cell.value))
      const text = alt === undefined ? '' : textOf(cell.valueOf(alt))
      if (picture.alt !== text) picture.alt = text
      if (address !== null && picture.getAttribute('src') === address) return
      const wanted = textOf(cell.value).trim()
      picture.hidden = wanted === ''
      tellBroken(picture, address === null && wanted !== '' ? wanted : null)
      // The picture of the row before must not be seen in this one while the new one loads.
      picture.removeAttribute('src')
      if (address !== null) picture.src = address
    },
    release(picture) {
      picture.onerror = null
      picture.removeAttribute('src')
    },
  }
}

function badgeCell({ mark, tones }: Of<'badge'>): CellPainter<{ badge: HTMLElement; text: Text }> {
  return {
    create(cell) {
      const badge = make('span', `badge ${mark}`, cell)
      const text = document.createTextNode('')
      badge.append(text)
      return { badge, text }
    },
    update({ badge, text }, cell) {
      if (text.nodeValue !== cell.text) text.nodeValue = cell.text
      const tone = cell.value === null ? '' : (tones[String(cell.value)] ?? 'stone')
      if (badge.dataset.tone !== tone) badge.dataset.tone = tone
    },
  }
}

function barCell(
  definition: Of<'bar'>,
  column: string,
  host: CellHost,
): CellPainter<{ bar: HTMLElement; text: Text }> {
  return {
    create(cell) {
      cell.classList.add('barred')
      const bar = make('i', 'bar-in-cell', cell)
      bar.dataset.tone = definition.tone
      const figure = make('span', 'figure', cell)
      const text = document.createTextNode('')
      figure.append(text)
      return { bar, text }
    },
    update({ bar, text }, { value, text: shown }) {
      if (text.nodeValue !== shown) text.nodeValue = shown
      const share = shareOf(value, definition, host.extent(column))
      const scale = `scaleX(${Math.round(share * 1000) / 1000})`
      if (bar.style.transform !== scale) bar.style.transform = scale
    },
  }
}

/** How much of the bar a value fills, 0 to 1. */
export function shareOf(
  value: Value,
  { low, high }: { readonly low?: number; readonly high?: number },
  extent: { readonly low: number; readonly high: number } | null,
): number {
  const from = low ?? Math.min(0, extent?.low ?? 0)
  const to = high ?? extent?.high
  if (typeof value !== 'number' || to === undefined || to <= from) return 0
  return Math.max(0, Math.min(1, (value - from) / (to - from)))
}

function actionsCell(
  { actions }: Of<'actions'>,
  column: string,
  host: CellHost,
): CellPainter<HTMLButtonElement[]> {
  return {
    create(cell) {
      cell.classList.add('acting')
      return actions.map(({ name, title, tone }) => {
        const button = make('button', 'act', cell)
        button.type = 'button'
        button.tabIndex = -1
        button.textContent = title
        button.dataset.action = name
        if (tone) button.dataset.tone = tone
        return button
      })
    },
    update(buttons, { row, valueOf, selected }) {
      const holds = (rule: string | undefined, key: string): boolean =>
        rule === undefined || valueOf(selected && speaksOfSelection(rule) ? whenSelected(key) : key) === true
      actions.forEach(({ name, when, shown }, i) => {
        const button = buttons[i]
        const state = host.actionState(row, column, name)
        const hidden = !holds(shown, actionShownKey(column, name))
        const disabled = state === 'busy' || !holds(when, actionKey(column, name))
        if (button.hidden !== hidden) button.hidden = hidden
        if (button.disabled !== disabled) button.disabled = disabled
        const busy = state === 'busy' ? 'true' : null
        if (button.ariaBusy !== busy) button.ariaBusy = busy
        const failed = state && state !== 'busy' ? state.failed : ''
        if (button.title !== failed) button.title = failed
        button.classList.toggle('failed', failed !== '')
      })
    },
  }
}

/** The painter of a built-in cell; null where the text alone is shown. */
export function cellPainter(definition: CellDefinition, column: string, host: CellHost): CellPainter | null {
  // A painter's state is its own; the band only hands it back.
  switch (definition.kind) {
    case 'text':
      return null
    case 'check':
      return checkCell()
    case 'tags':
      return tagsCell(definition)
    case 'link':
      return linkCell(definition)
    case 'mail':
      return mailCell(definition)
    case 'picture':
      return pictureCell(definition, host)
    case 'badge':
      return badgeCell(definition)
    case 'bar':
      return barCell(definition, column, host)
    case 'actions':
      return actionsCell(definition, column, host)
  }
}

/** The columns that tell where a rule holds. */
const ruleKeys = (rule: string | undefined, key: string): string[] =>
  rule === undefined ? [] : speaksOfSelection(rule) ? [key, whenSelected(key)] : [key]

/** The other columns that a cell reads from its row, so that they are fetched with it. */
export function columnsRead(definition: CellDefinition, column: string): string[] {
  switch (definition.kind) {
    case 'link':
    case 'mail':
      return definition.address === undefined ? [] : [definition.address]
    case 'picture':
      return definition.alt === undefined ? [] : [definition.alt]
    case 'actions':
      return definition.actions.flatMap(({ name, when, shown }) => [
        ...ruleKeys(when, actionKey(column, name)),
        ...ruleKeys(shown, actionShownKey(column, name)),
      ])
    default:
      return []
  }
}
