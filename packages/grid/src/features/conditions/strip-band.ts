import { conditionSummary, printPhrase, readPhrase } from '@vast-meadow/engine/client'
import type { ConditionWords, FlowReport } from '@vast-meadow/engine'
import { Band, type BandCell } from '../../band/band.ts'
import { isOwnColumn, type Geometry } from '../../band/geometry.ts'
import type { GridModel } from '../../kernel/grid-model.ts'
import { Disposal, keepKey, make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'
import { Popup } from '../../kernel/popup.ts'
import { type PageLine, ABOVE_LINES, asPageLine } from '../../kernel/page-line.ts'

interface StripCell extends BandCell {
  readonly input: HTMLInputElement
}

export interface StripHost {
  /** Puts the keyboard on a cell; line −1 is the header. */
  go(line: PageLine, column: string): void
  /** Puts the keyboard into the strip's field of the column before or after; false where there is none. */
  beside(column: string, step: 1 | -1): boolean
  format(count: number): string
  readonly report: FlowReport | null
}

/**
 * The asking strip: under each header a field in which the column's condition is typed as a short phrase. Only columns
 * in view have a field; what a field holds follows the condition, wherever that is changed.
 */
export class StripBand extends Band<StripCell> {
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly words: ConditionWords
  private readonly host: StripHost
  private readonly hint: HTMLElement
  private readonly disposal = new Disposal()
  private readonly popup: Popup
  /** What was typed and cannot be read yet, by column; the condition before it holds until it can. */
  private readonly drafts = new Map<string, string>()
  private writing = ''

  constructor(frame: HTMLElement, model: GridModel, texts: Texts, words: ConditionWords, host: StripHost) {
    super('row strip')
    this.model = model
    this.texts = texts
    this.words = words
    this.host = host
    this.element.setAttribute('part', 'strip')
    this.hint = make('div', 'hint', frame)
    this.hint.id = 'strip-hint'
    this.popup = new Popup(this.hint, { place: 'under' }, this.disposal)
  }

  /** Shows conditions as they are now, but for the field that is being written in. */
  update(): void {
    for (const cell of this.cells()) if (!isOwnColumn(cell.column)) this.showPhrase(cell)
    this.showHint()
  }

  /** Puts the keyboard into a column's field; false where it has none. */
  focus(column: string): boolean {
    const cell = this.cellOf(column)
    if (!cell || cell.input.hidden) return false
    cell.input.focus({ preventScroll: true })
    cell.input.select()
    return true
  }

  override dispose(): void {
    super.dispose()
    this.disposal.dispose()
    this.hint.remove()
  }

  protected override makeCell(parent: HTMLElement): StripCell {
    const element = make('div', 'cell', parent)
    element.setAttribute('role', 'gridcell')
    const input = make('input', '', element)
    input.type = 'text'
    input.tabIndex = -1
    input.spellcheck = false
    input.autocomplete = 'off'
    input.placeholder = this.texts.any
    input.setAttribute('aria-describedby', this.hint.id)
    const cell: StripCell = { element, input, column: '' }
    input.addEventListener('input', () => this.typed(cell))
    input.addEventListener('keydown', event => this.key(event, cell))
    input.addEventListener('focus', () => {
      this.writing = cell.column
      this.showHint()
    })
    input.addEventListener('blur', () => {
      this.writing = ''
      this.showPhrase(cell)
      this.showHint()
    })
    return cell
  }

  protected override dress(cell: StripCell, geometry: Geometry): void {
    const { element, input, column } = cell
    const asks = !isOwnColumn(column) && this.model.canAsk(column) && this.model.fieldOf(column) !== undefined
    input.hidden = !asks
    element.className = `cell to-${geometry.column(column)?.align ?? 'start'}`
    if (!asks) return
    input.ariaLabel = this.texts.conditionOn(this.model.titleOf(column))
    this.showPhrase(cell)
  }

  protected override drop(): void {}

  private showPhrase({ element, input, column }: StripCell): void {
    const condition = this.model.conditionOf(column)
    element.classList.toggle('asks', condition !== null)
    const draft = this.drafts.get(column)
    input.ariaInvalid = draft === undefined ? null : 'true'
    if (this.writing === column) return
    const of = this.model.phraseOf(column)
    const text = draft ?? (condition && of ? printPhrase(condition, of) : '')
    if (input.value !== text) input.value = text
  }

  private typed(cell: StripCell): void {
    const { column, input } = cell
    const of = this.model.phraseOf(column)
    if (!of) return
    this.drafts.delete(column)
    if (input.value.trim() === '') this.model.setCondition(column, null)
    else {
      const read = readPhrase(input.value, of)
      if (read.ok) this.model.setCondition(column, read.condition)
      else this.drafts.set(column, input.value)
    }
    this.showPhrase(cell)
    this.showHint()
  }

  /** Says what the phrase that is being written means, and how many rows pass; or what is wrong with it. */
  private showHint(): void {
    const cell = this.writing ? this.cellOf(this.writing) : undefined
    const text = cell ? this.hintOf(cell) : ''
    this.hint.classList.toggle('wrong', cell?.input.ariaInvalid === 'true')
    if (this.hint.textContent !== text) this.hint.textContent = text
    if (cell && text) this.popup.show(cell.element)
    else this.popup.hide()
  }

  private hintOf({ column }: StripCell): string {
    const { model, texts, host } = this
    const of = model.phraseOf(column)
    const draft = this.drafts.get(column)
    if (of && draft !== undefined) {
      const read = readPhrase(draft, of)
      return read.ok ? '' : this.texts.phraseProblem(read.problem)
    }
    const condition = model.conditionOf(column)
    if (!condition || !of) return texts.phraseHelp(of?.field.type ?? 'text')
    const problems = host.report?.conditionProblems[column] ?? []
    if (problems.length > 0) return problems.map(this.texts.partProblem).join(' ')
    const meaning = conditionSummary(condition, of.field, model.showOf(column), this.words)
    const count = host.report
      ? `${this.texts.parted}${texts.passingRows(host.format(host.report.passing), host.format(host.report.total), host.report.total)}`
      : ''
    return meaning + count
  }

  private key(event: KeyboardEvent, { column, input }: StripCell): void {
    const { host } = this
    const handled = ((): boolean => {
      switch (event.key) {
        case 'ArrowUp':
          host.go(ABOVE_LINES, column)
          return true
        case 'Enter':
        case 'ArrowDown':
          host.go(asPageLine(0), column)
          return true
        case 'Escape':
          this.drafts.delete(column)
          this.writing = ''
          host.go(ABOVE_LINES, column)
          return true
        case 'ArrowLeft':
        case 'ArrowRight':
          return this.sideways(event, column, input)
        default:
          return false
      }
    })()
    if (handled) event.preventDefault()
    keepKey(event)
  }

  /** An arrow at the end of what is written goes to the field beside. */
  private sideways(event: KeyboardEvent, column: string, input: HTMLInputElement): boolean {
    if (event.shiftKey || event.ctrlKey || event.metaKey) return false
    const rtl = getComputedStyle(input).direction === 'rtl'
    const step = (event.key === 'ArrowRight') !== rtl ? 1 : -1
    const at = step === 1 ? input.value.length : 0
    if (input.selectionStart !== at || input.selectionEnd !== at) return false
    return this.host.beside(column, step)
  }
}
