import { asLine, NO_LINE, readPhrase, spanOf } from '@vast-meadow/engine/client'
import type { FieldType, KeyValue } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { Destination, GoToViewHost } from './go-to-view.ts'

/** Letters typed within this time are one word. */
const TYPED_MS = 900
const NUMERIC: readonly FieldType[] = ['integer', 'number', 'date', 'datetime', 'time']

/** Of the grid's handle: ways to a line. `scrollTo` goes to a row by its key. */
export interface GoToHandle {
  /** Goes to a line, counted from 1 as the foot counts them, over all pages; false: there is none. */
  goToLine(nth: number): boolean
  /**
   * Goes to the first row at or beyond a value of the column that rows are ordered by, as a reader would write it:
   * `2021`, `M`, `12.5`. False: rows are not ordered by what could be looked for, or none is there.
   */
  goToValue(written: string): Promise<boolean>
}

/** Rows are gone to by line, by key, and by a value of the column that they are ordered by; letters alone do that too. */
export function goTo(kernel: Kernel): Feature {
  const { model, texts, frame, foot, screen, navigator, announcer, disposal, format } = kernel
  let typed = ''
  let typedAt = -Infinity

  /** The column that rows are ordered by first, where it can be looked for in it; null: none. */
  function ordering(): { readonly column: string; readonly title: string; readonly type: FieldType } | null {
    const key = model.arrangement.order.at(0)
    const type = key && model.fieldOf(key.column)?.type
    const rule = key && model.columnOf(key.column)?.order
    if (!key || !type || !model.canTell('firstFrom') || rule?.by === 'expression') return null
    if (type !== 'text' && (!NUMERIC.includes(type) || rule?.by === 'shown')) return null
    return { column: key.column, title: model.titleOf(key.column), type }
  }

  /** What is written as what the column holds; null: that says nothing of it. */
  function valueOf(written: string): number | string | null {
    const by = ordering()
    if (!by) return null
    if (by.type === 'text') return written
    const field = model.fieldOf(by.column)
    const phrase = model.phraseOf(by.column)
    const read = phrase && readPhrase(written, phrase)
    const [part] = read?.ok ? read.condition.parts : []
    if (!field || part === undefined || !('value' in part) || typeof part.value === 'boolean') return null
    const span = spanOf(part.value, { field, clock: { now: 0, zone: model.definition?.zone } })
    return span && Number(isDescending() ? span.to : span.from)
  }
  const isDescending = (): boolean => model.arrangement.order.at(0)?.direction === 'descending'

  async function toValue(written: string): Promise<boolean> {
    const by = ordering()
    const from = valueOf(written.trim())
    if (!by || from === null || from === '') return false
    await kernel.settled()
    if (!kernel.view) return false
    const natural = model.columnOf(by.column)?.order.natural ?? false
    const asked = { view: kernel.view.id, column: by.column, from, descending: isDescending(), natural }
    const found = await model.ask('firstFrom', asked)
    if (!found) return false
    const { column } = navigator
    kernel.goTo(found.line, column && !isOwnColumn(column) ? column : by.column)
    return true
  }

  const handle: GoToHandle = {
    goToLine(nth) {
      const lines = kernel.view?.lines.lineCount ?? 0
      const line = Number.isInteger(nth) && nth >= 1 && nth <= lines ? asLine(nth - 1) : NO_LINE
      if (line < 0) return false
      kernel.goTo(line, navigator.column || screen.firstColumn)
      return true
    },
    goToValue: toValue,
  }

  /** The key as it is written: parts of it with commas between, where there are several. */
  const keyOf = (written: string): KeyValue =>
    model.keyFields.length > 1 ? written.split(',').map(part => part.trim()) : written.trim()

  async function toKey(written: string): Promise<boolean> {
    const asked = { keyFields: model.keyFields, keys: [keyOf(written)] }
    const [row = null] = (await model.ask('findRows', asked)) ?? []
    return row !== null && (await kernel.goToRow(row))
  }

  /** Goes there; answers why it cannot, null where it went. */
  async function go(to: Destination, written: string): Promise<string | null> {
    switch (to) {
      case 'line': {
        const nth = Number(written.replace(/[^\d]/g, ''))
        return handle.goToLine(nth) ? null : texts.noSuchLine(format(kernel.view?.lines.lineCount ?? 0))
      }
      case 'key':
        return (await toKey(written)) ? null : texts.noSuchKey(written)
      case 'value':
        return (await toValue(written)) ? null : texts.noneFrom(written, ordering()?.title ?? '')
    }
  }

  const viewHost: GoToViewHost = {
    destinations: () => {
      const by = ordering()
      return [
        ...(by ? [{ to: 'value' as const, text: texts.goToValue(by.title) }] : []),
        { to: 'line' as const, text: texts.goToLine },
        ...(model.keyFields.length > 0 && model.canTell('findRows')
          ? [{ to: 'key' as const, text: model.keyFields.map(key => model.titleOf(key)).join(', ') }]
          : []),
      ]
    },
    go,
    failed: kernel.failed,
    leave: () => navigator.restore(true),
  }
  const view = kernel.whenUsed.add(
    () => import('./go-to-view.ts'),
    ({ GoToView }) => new GoToView(frame, texts, viewHost, disposal),
  )
  const open = (anchor: Element): void => view.use(one => one.open(anchor))
  foot.span.title = texts.goHint
  disposal.listen(foot.span, 'click', () => open(foot.span))
  const entry = (column: string): MenuEntry => ({
    text: texts.goTo,
    act: () => open(screen.cellElement(navigator.line, column) ?? foot.span),
  })

  return {
    name: 'go to',
    handle,
    cellMenu: ({ column }) => [entry(column)],
    headMenu: () => [entry(navigator.column)],
    key(event, { line, column }) {
      const { key, ctrlKey, metaKey, altKey, timeStamp } = event
      if (line < 0 || ctrlKey || metaKey || altKey || !/^.$/u.test(key)) return false
      const goesOn = timeStamp - typedAt < TYPED_MS
      // A space ticks, unless it stands within what is typed.
      if ((key === ' ' || key === '*') && !(goesOn && typed !== '')) return false
      if (!ordering() || column === '') return false
      typed = goesOn ? typed + key : key
      typedAt = timeStamp
      const mine = typed
      toValue(typed).then(found => {
        if (typed === mine)
          announcer.say(found ? texts.typedAhead(mine) : texts.noneFrom(mine, ordering()?.title ?? ''))
      }, kernel.failed)
      return true
    },
  }
}
