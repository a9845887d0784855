import { printPhrase, readPhrase, sure } from '@vast-meadow/engine/client'
import type { Condition, Facets } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import { focusedBeside, make } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'
import { PartsEditor } from './parts-editor.ts'
import { RangePicker } from './range-picker.ts'
import { ValueList } from './value-list.ts'

export interface ConditionEditorHost {
  facets(column: string, limit: number, holding: string): Promise<Facets | null>
  numberOf(column: string, end: string | number | undefined, upper: boolean): number | null
  format(count: number): string
}

/** Values listed at once; more are found by typing. */
const LISTED = 100

/**
 * All ways to say what a column asks of a row: its parts, its values with counts, a range, and the short phrase. Each
 * shows the column's one condition and follows it wherever it is changed.
 */
export class ConditionEditor {
  readonly element = make('div', 'condition')
  private readonly model: GridModel
  private readonly column: string
  private readonly host: ConditionEditorHost
  private readonly phrase: HTMLInputElement
  private readonly problem: HTMLElement
  private readonly parts: PartsEditor
  private readonly values: ValueList
  private readonly range: RangePicker
  private asked = 0

  private readonly texts: Texts

  /** The column must be one of the data. */
  constructor(model: GridModel, column: string, texts: Texts, host: ConditionEditorHost) {
    this.texts = texts
    this.model = model
    this.column = column
    this.host = host
    const of = sure(model.phraseOf(column))
    const set = (condition: Condition | null): void => model.setCondition(column, condition)
    const condition = (): Condition | null => model.conditionOf(column)
    this.parts = new PartsEditor(texts, {
      of,
      ...model.kindsOf(column),
      set,
      wrong: typed => (this.problem.textContent = typed === null ? '' : this.meanwhile(typed)),
    })
    this.range = new RangePicker(texts, {
      field: of.field,
      condition,
      set,
      show: model.showOf(column),
      numberOf: (end, upper) => host.numberOf(column, end, upper),
    })
    this.values = new ValueList(texts, {
      facets: holding => host.facets(column, LISTED, holding),
      condition,
      set,
      format: count => host.format(count),
    })
    this.element.append(this.parts.element, this.range.element, this.values.element)
    const line = make('label', 'phrase', this.element)
    make('span', '', line).textContent = texts.asPhrase
    this.phrase = make('input', 'value', line)
    this.phrase.type = 'text'
    this.phrase.spellcheck = false
    this.phrase.placeholder = texts.any
    this.problem = make('p', 'problem', this.element)
    this.problem.setAttribute('role', 'status')
    this.phrase.oninput = () => this.typed()
    const acts = make('div', 'acts', this.element)
    const act = (text: string, does: () => void): void => {
      const button = make('button', 'button', acts)
      button.type = 'button'
      button.textContent = text
      button.onclick = does
    }
    act(texts.liftThis, () => this.parts.startAgain())
  }

  focus(): void {
    this.parts.focus()
  }

  /** Shows the condition as it is now. */
  update(): void {
    const condition = this.model.conditionOf(this.column)
    this.parts.show(condition)
    this.values.update()
    this.range.update()
    const of = this.model.phraseOf(this.column)
    if (focusedBeside(this.element) === this.phrase || !of) return
    this.phrase.value = condition ? printPhrase(condition, of) : ''
    this.phrase.ariaInvalid = null
    this.problem.textContent = ''
  }

  /** What passes changed: counts are asked for anew. */
  async load(): Promise<void> {
    const mine = ++this.asked
    const facets = await this.host.facets(this.column, 1, '')
    if (mine !== this.asked || !facets) return
    this.range.show(facets)
    await this.values.load(!this.range.element.hidden)
  }

  /** What is asked while something that was typed cannot be read. */
  private meanwhile(typed: string | null): string {
    const condition = this.model.conditionOf(this.column)
    const of = this.model.phraseOf(this.column)
    const phrase = condition && of ? printPhrase(condition, of) : null
    return `${typed === null ? '' : `${this.texts.notAValue(typed)} `}${this.texts.meanwhile(phrase)}`
  }

  private typed(): void {
    const { phrase, problem, model, column } = this
    const of = sure(model.phraseOf(column))
    const read = phrase.value.trim() ? readPhrase(phrase.value, of) : null
    phrase.ariaInvalid = read?.ok === false ? 'true' : null
    problem.textContent =
      read?.ok === false ? `${this.texts.phraseProblem(read.problem)} ${this.meanwhile(null)}` : ''
    if (!read || read.ok) model.setCondition(column, read ? read.condition : null)
  }
}
