import {
  conditionSummary,
  conditionWords,
  searchWords,
  type Condition,
  type ConditionPart,
  type ConditionWords,
  type Explanation,
  type OwnConditions,
  type FlowReport,
  type RowId,
  type Value,
  type ViewId,
} from '@vast-meadow/engine'
import { CellMenu, type CellMenuEntry } from '../ask/cell-menu.ts'
import { ColumnCard } from '../ask/column-card.ts'
import { ConditionEditor, type ConditionEditorHost } from '../ask/condition-editor.ts'
import { numberOfEnd } from '../ask/range-end.ts'
import { StripBand } from '../ask/strip-band.ts'
import { activeChips } from '../bar/active-chips.ts'
import type { BarView } from '../bar/bar-view.ts'
import type { Hindering } from '../bar/state-view.ts'
import { SELECT_COLUMN } from '../band/geometry.ts'
import { SearchMarks } from '../body/search-marks.ts'
import { make, type Disposal } from '../dom.ts'
import { gridSheet } from '../look/styles.ts'
import type { Texts } from '../texts.ts'
import type { GridModel } from './grid-model.ts'
import type { Navigator } from './navigator.ts'
import type { Screen } from './screen.ts'

export interface AskingHost {
  readonly frame: HTMLElement
  readonly bar: BarView
  readonly screen: Screen
  readonly navigator: Navigator
  readonly report: FlowReport | null
  /** The view that is shown; asked only while there is one. */
  readonly view: ViewId
  format(count: number): string
  failed(error: unknown): void
  /** Brings a line of the newest arrangement into view and the keyboard onto its cell. */
  goTo(line: number, column: string): void
  /** Whether anybody tells why a row is where it is. */
  readonly tellsWhy: boolean
  /** Asked from a cell: why its row is where it is. */
  why(row: RowId): void
}

/** Everything by which a reader asks for rows: strip, cards, chips, the search's marks, and the ways to lift. */
export class Asking {
  readonly strip: StripBand
  readonly words: ConditionWords
  private readonly card: ColumnCard
  private readonly cellMenu: CellMenu
  /** Those that stand in the page. */
  private readonly editors = new Set<ConditionEditor>()
  private readonly marks = new SearchMarks()
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly host: AskingHost

  constructor(model: GridModel, texts: Texts, own: OwnConditions, host: AskingHost, disposal: Disposal) {
    this.model = model
    this.texts = texts
    this.host = host
    this.words = { ...conditionWords, ...texts.conditions, own }
    this.strip = new StripBand(host.frame, model, texts, this.words, {
      go: (line, column) => host.navigator.go(line, column),
      beside: (column, step) => this.stripBeside(column, step),
      format: count => host.format(count),
      get report() {
        return host.report
      },
    })
    this.card = new ColumnCard(
      host.frame,
      model,
      texts,
      {
        anchorOf: column => host.screen.header.cellOf(column)?.element ?? host.bar.element,
        leave: column => host.navigator.go(-1, column),
        ...this.editorHost,
      },
      disposal,
    )
    this.cellMenu = new CellMenu(host.frame, texts, disposal)
    disposal.add(() => this.marks.clear())
  }

  /**
   * Puts an editor of a column's condition into an element of the page's own; it is the same condition as everywhere.
   * Returns what takes the editor away; null where the column cannot be asked.
   */
  mountEditor(column: string, place: HTMLElement): (() => void) | null {
    if (!this.model.canAsk(column) || !this.model.phraseOf(column)) return null
    const root = place.shadowRoot ?? place.attachShadow({ mode: 'open' })
    root.adoptedStyleSheets = [gridSheet()]
    const editor = new ConditionEditor(this.model, column, this.texts, this.editorHost)
    const holder = make('div', 'card embedded', root)
    holder.append(editor.element)
    this.editors.add(editor)
    editor.update()
    void editor.load()
    return () => {
      this.editors.delete(editor)
      holder.remove()
    }
  }

  /** Conditions, order or search are others now. */
  arrangementChanged(): void {
    const { model, texts, host } = this
    host.bar.setChips(activeChips(model, texts, this.words, column => this.openCard(column)))
    this.strip.update()
    this.card.update()
    for (const editor of this.editors) editor.update()
    host.screen.header.setAsked(new Set(Object.keys(model.arrangement.conditions)))
  }

  /** Other rows pass now. */
  linesChanged(report: FlowReport): void {
    this.strip.update()
    void this.card.load()
    for (const editor of this.editors) void editor.load()
    const found = report.stages.find(({ stage }) => stage === 'search')?.rowsOut ?? 0
    const searching = this.model.arrangement.search.trim() !== ''
    this.host.bar.setFound(searching ? this.texts.found(this.host.format(found)) : null)
  }

  /** Cells were drawn: what the search finds in them is marked. */
  drawn(): void {
    const words = searchWords(this.model.arrangement.search)
    if (words.length === 0) return this.marks.clear()
    this.marks.mark(this.markedCells(), words)
  }

  openCard(column: string): void {
    if (column !== SELECT_COLUMN && this.model.definition) this.card.open(column)
  }

  toggleCard(column: string): void {
    if (column !== SELECT_COLUMN) this.card.toggle(column)
  }

  /** Goes to the next cell that the search marks, or to the one before. */
  async toMatch(step: 1 | -1): Promise<void> {
    const { model, host } = this
    const columns = host.screen.columns.filter(
      column => column !== SELECT_COLUMN && model.searchColumns.includes(column),
    )
    const { line, column } = host.navigator
    try {
      const found = await model.ask('findMatch', {
        view: host.view,
        search: model.arrangement.search,
        columns,
        from: { line: host.navigator.placed ? line : -1, column },
        step,
      })
      if (found) host.goTo(found.line, found.column)
    } catch (error) {
      host.failed(error)
    }
  }

  /** What a cell's value can be asked for: this value, any but it, from it up, up to it. */
  openCellMenu(row: RowId, column: string, value: Value, anchor: HTMLElement): void {
    const { model, texts } = this
    const entries: CellMenuEntry[] = []
    const ask = (text: string, part: ConditionPart): void => {
      const condition: Condition = { match: 'all', parts: [part] }
      entries.push({ text, act: () => model.setCondition(column, condition) })
    }
    const field = model.fieldOf(column)
    if (model.canAsk(column) && field) {
      if (value === null) {
        ask(texts.onlyMissing, { kind: 'missing' })
        ask(texts.notMissing, { kind: 'present' })
      } else {
        const shown = model.showOf(column)(value)
        const exact = field.type === 'text' ? { exact: true } : {}
        if (field.type === 'tags') {
          const values = JSON.parse(value as string) as string[]
          ask(texts.onlyThis(shown), { kind: 'all-of', values })
          ask(texts.notThis(shown), { kind: 'none-of', values })
        } else {
          ask(texts.onlyThis(shown), { kind: 'equals', value, ...exact })
          ask(texts.notThis(shown), { kind: 'differs', value, ...exact })
        }
        const amount = typeof value === 'number' || field.wide ? (value as number | string) : null
        if (amount !== null) {
          ask(texts.fromHereUp(shown), { kind: 'at-least', value: amount })
          ask(texts.upToHere(shown), { kind: 'at-most', value: amount })
        }
      }
    }
    if (this.host.tellsWhy) entries.push({ text: texts.whyHere, act: () => this.host.why(row) })
    this.cellMenu.open(entries, anchor)
  }

  /** What holds everything back, each with its count and how to lift it; empty where nothing does. */
  hindrances({ conditions, words }: Explanation): Hindering[] {
    const { model, texts, host } = this
    const told: Hindering[] = []
    const count = (meet: number, without: number): string =>
      texts.hindrance(host.format(meet), host.format(without))
    for (const { word, meet, without, nearest } of words) {
      told.push({
        what: texts.theWord(word),
        count: count(meet, without),
        lift: () => model.apply({ search: replaceWord(model.arrangement.search, word, '') }, 'reader'),
        instead:
          nearest === null
            ? null
            : {
                text: nearest,
                act: () =>
                  model.apply({ search: replaceWord(model.arrangement.search, word, nearest) }, 'reader'),
              },
      })
    }
    for (const [column, { meet, without, nearest }] of Object.entries(conditions)) {
      const condition = model.conditionOf(column)
      const field = model.fieldOf(column)
      if (!condition || !field) {
        if (model.arrangement.where.trim())
          told.push({
            what: `${texts.where} ${model.arrangement.where}`,
            count: count(meet, without),
            lift: () => model.apply({ where: '' }, 'reader'),
            instead: null,
          })
        continue
      }
      const said = conditionSummary(condition, field, model.showOf(column), this.words)
      told.push({
        what: `${model.titleOf(column)} ${said}`,
        count: count(meet, without),
        lift: () => model.setCondition(column, null),
        instead:
          nearest === null
            ? null
            : {
                text: nearest,
                act: () => model.setCondition(column, withText(condition, nearest)),
              },
      })
    }
    return told
  }

  private get editorHost(): ConditionEditorHost {
    const { model, host } = this
    return {
      facets: async (column, limit, holding) => {
        if (!model.canTell('facets')) return null
        const asked = { request: model.request(), column, limit, holding }
        return (await model.ask('facets', asked).catch(() => null)) ?? null
      },
      numberOf: (column, end, upper) => numberOfEnd(model, column, end, upper),
      format: count => host.format(count),
    }
  }

  private *markedCells(): Iterable<Element> {
    const searched = new Set(this.model.searchColumns)
    for (const band of this.host.screen.body.shownBands())
      if (band.row !== null)
        for (const { element, column } of band.cells()) if (searched.has(column)) yield element
  }

  private stripBeside(column: string, step: 1 | -1): boolean {
    const { screen } = this.host
    const { columns } = screen
    for (let at = columns.indexOf(column) + step; at > 0 && at < columns.length; at += step) {
      if (!this.model.canAsk(columns[at])) continue
      screen.reveal(-1, columns[at])
      return this.strip.focus(columns[at])
    }
    return false
  }
}

/** The search with one of its words changed, or left out. */
export function replaceWord(search: string, word: string, by: string): string {
  const written = by.includes(' ') ? `"${by}"` : by
  return [...search.matchAll(/"[^"]*"?|\S+/g)]
    .map(([one]) => (searchWords(one)[0] === word ? written : one))
    .filter(Boolean)
    .join(' ')
}

/** The condition asking for another text. */
function withText({ match, parts }: Condition, text: string): Condition {
  const [part] = parts
  if ('text' in part) return { match, parts: [{ ...part, text }] }
  if (part.kind === 'one-of') return { match, parts: [{ ...part, values: [text] }] }
  return part.kind === 'equals' ? { match, parts: [{ ...part, value: text }] } : { match, parts }
}
