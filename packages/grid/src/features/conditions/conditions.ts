import { conditionSummary, isAble, tagsOf } from '@vast-meadow/engine/client'
import type { Condition, ConditionPart, Explanation } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import { conditionWordsOf } from '../../kernel/arrangement-speaker.ts'
import { elementOf, make } from '../../kernel/dom.ts'
import type { Feature, MenuEntry, PlacedCell } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { Hindering } from '../../kernel/state-view.ts'
import { gridSheet } from '../../look/styles.ts'
import type { ColumnCardHost } from './column-card.ts'
import { conditionChips } from './condition-chips.ts'
import type { ConditionEditor, ConditionEditorHost } from './condition-editor.ts'
import { numberOfEnd } from './range-end.ts'
import { StripBand } from './strip-band.ts'
import { ABOVE_LINES } from '../../kernel/page-line.ts'

/** Of the grid's handle: where a column is asked. */
export interface ConditionsHandle {
  /** Opens the card of a column: what it is ordered by, and what it asks. */
  openCard(column: string): void
  /**
   * Puts an editor of a column's condition into an element of the page; it sets the same condition as strip, card and
   * chips do. Returns what takes it away; null where the column cannot be asked.
   */
  mountConditionEditor(column: string, host: HTMLElement): (() => void) | null
}

/** One condition a column, and one free expression: set by strip, card, cell or an editor in the page, lifted at chips. */
export function conditions(kernel: Kernel): Feature {
  const { model, texts, frame, screen, navigator, bar, disposal, format, whenUsed } = kernel
  const words = conditionWordsOf(texts, kernel.options.parts)
  /** Editors that stand in the page. */
  const editors = new Set<ConditionEditor>()
  const strip = new StripBand(frame, model, texts, words, {
    go: (line, column) => navigator.go(line, column),
    beside,
    format,
    get report() {
      return kernel.report
    },
  })
  const editorHost: ConditionEditorHost = {
    async facets(column, limit, holding) {
      if (!model.canTell('facets')) return null
      const asked = { request: model.request(), column, limit, holding }
      return (await model.ask('facets', asked).catch(() => null)) ?? null
    },
    numberOf: (column, end, upper) => numberOfEnd(model, column, end, upper),
    format,
  }
  const card = whenUsed.add(
    () => import('./column-card.ts'),
    ({ ColumnCard }) => new ColumnCard(frame, model, texts, cardHost, disposal),
  )
  const editing = whenUsed.add(
    () => Promise.all([import('./condition-editor.ts'), import('../../look/card-styles.ts')]),
    ([{ ConditionEditor }, { cardSheet }]) => ({ ConditionEditor, cardSheet }),
  )
  const cardHost: ColumnCardHost = {
    anchorOf: column => screen.header.cellOf(column)?.element ?? bar.element,
    leave: column => navigator.go(ABOVE_LINES, column),
    parts: column =>
      kernel.features.all(feature => feature.cardPart?.(column, () => card.made?.close(false)) ?? []).flat(),
    ...editorHost,
  }

  /** The field of the strip that stands beside a column's. */
  function beside(column: string, step: 1 | -1): boolean {
    const { columns } = screen
    for (let at = columns.indexOf(column) + step; at > 0 && at < columns.length; at += step) {
      if (!model.canAsk(columns[at])) continue
      screen.reveal(ABOVE_LINES, columns[at])
      return strip.focus(columns[at])
    }
    return false
  }

  function mountEditor(column: string, place: HTMLElement): (() => void) | null {
    if (!model.canAsk(column) || !model.phraseOf(column)) return null
    const root = place.shadowRoot ?? place.attachShadow({ mode: 'open' })
    const holder = make('div', 'card embedded', root)
    let editor: ConditionEditor | null = null
    let gone = false
    editing.use(({ ConditionEditor, cardSheet }) => {
      if (gone) return
      root.adoptedStyleSheets = [gridSheet(place.ownerDocument), cardSheet(place.ownerDocument)]
      editor = new ConditionEditor(model, column, texts, editorHost)
      holder.append(editor.element)
      editors.add(editor)
      editor.update()
      void editor.load()
    })
    return () => {
      gone = true
      if (editor) editors.delete(editor)
      holder.remove()
    }
  }

  /** What a cell's value can be asked for: this value, any but it, from it up, up to it. */
  function fromCell({ column, value }: PlacedCell): MenuEntry[] {
    const field = model.fieldOf(column)
    if (!model.canAsk(column) || !field) return []
    const entry = (text: string, part: ConditionPart): MenuEntry => ({
      text,
      act: () => model.setCondition(column, { match: 'all', parts: [part] }),
    })
    if (value === null)
      return [entry(texts.onlyMissing, { kind: 'missing' }), entry(texts.notMissing, { kind: 'present' })]
    const shown = model.showOf(column)(value)
    if (field.type === 'tags') {
      const values = [...tagsOf(String(value))]
      return [
        entry(texts.onlyThis(shown), { kind: 'all-of', values }),
        entry(texts.notThis(shown), { kind: 'none-of', values }),
      ]
    }
    const exact = field.type === 'text' ? { exact: true } : {}
    const entries = [
      entry(texts.onlyThis(shown), { kind: 'equals', value, ...exact }),
      entry(texts.notThis(shown), { kind: 'differs', value, ...exact }),
    ]
    if (typeof value !== 'boolean' && (typeof value === 'number' || field.wide)) {
      entries.push(entry(texts.fromHereUp(shown), { kind: 'at-least', value }))
      entries.push(entry(texts.upToHere(shown), { kind: 'at-most', value }))
    }
    return entries
  }

  function hindrances({ conditions: told }: Explanation): Hindering[] {
    return Object.entries(told).flatMap(([column, { meet, without, nearest }]): Hindering[] => {
      const count = texts.hindrance(format(meet), format(without), meet)
      const condition = model.conditionOf(column)
      const field = model.fieldOf(column)
      const { where } = model.arrangement
      if (!condition || !field) {
        const lift = (): void => void model.apply({ where: '' }, 'reader')
        return where.trim() ? [{ what: `${texts.where} ${where}`, count, lift, instead: null }] : []
      }
      const said = conditionSummary(condition, field, model.showOf(column), words)
      const useNearest = (text: string): void => model.setCondition(column, withText(condition, text))
      return [
        {
          what: `${model.titleOf(column)} ${said}`,
          count,
          lift: () => model.setCondition(column, null),
          instead: nearest === null ? null : { text: nearest, act: () => useNearest(nearest) },
        },
      ]
    })
  }

  const handle: ConditionsHandle = {
    openCard(column) {
      if (!isOwnColumn(column) && model.definition) card.use(one => one.open(column))
    },
    mountConditionEditor: mountEditor,
  }
  const toggleCard = (column: string): boolean => {
    if (isOwnColumn(column)) return false
    card.use(one => one.toggle(column))
    return true
  }

  return {
    name: 'conditions',
    handle,
    refresh() {
      strip.update()
      card.made?.update()
      for (const editor of editors) editor.update()
      screen.header.setAsked(new Set(Object.keys(model.arrangement.conditions)))
    },
    defined(definition) {
      screen.setStrip(definition.strip && isAble(model.description?.can.conditions) ? strip : null)
    },
    viewed() {
      strip.update()
      void card.made?.load()
      for (const editor of editors) void editor.load()
    },
    key({ key }, { line, column }) {
      const intoStrip = (line === -1 && key === 'ArrowDown') || (line === 0 && key === 'ArrowUp')
      return intoStrip && (model.definition?.strip ?? false) && strip.focus(column)
    },
    click: (event, { line, column }) =>
      line === -1 && elementOf(event.target)?.closest('.more-of') !== null && toggleCard(column),
    card: ({ line, column }) => line === -1 && toggleCard(column),
    headingMenu: column => [
      ...(column in model.arrangement.conditions
        ? [{ text: texts.liftCondition, act: () => model.setCondition(column, null) }]
        : []),
      { text: texts.moreOf(model.titleOf(column)), rank: 1, act: () => handle.openCard(column) },
    ],
    cellMenu: fromCell,
    chips: () => conditionChips(model, texts, words, column => handle.openCard(column)),
    lifted: { conditions: {}, where: '' },
    hindrances,
  }
}

/** The condition asking for another text. */
function withText({ match, parts }: Condition, text: string): Condition {
  const [part] = parts
  if ('text' in part) return { match, parts: [{ ...part, text }] }
  if (part.kind === 'one-of') return { match, parts: [{ ...part, values: [text] }] }
  return part.kind === 'equals' ? { match, parts: [{ ...part, value: text }] } : { match, parts }
}
