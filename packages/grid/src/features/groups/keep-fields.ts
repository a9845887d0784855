import { printPhrase, readPhrase } from '@vast-meadow/engine/client'
import type { GroupMeasure, Keep } from '@vast-meadow/engine'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { measureName, measuresOf } from './measure-words.ts'

/** Groups that “only the first” begins with. */
const USUAL_MOST = 10
/** The others are one group, of however many. */
const TOGETHER = { count: USUAL_MOST, of: 'size', direction: 'descending', rest: 'together' } as const

/** Which groups of a level are kept: a condition on one measure, in the words of a phrase, and the first or last of them. */
export class KeepFields {
  readonly element = make('fieldset', 'keep')
  private readonly kernel: Kernel
  private readonly changed: (keep: Keep | undefined) => void
  private keep: Keep | undefined

  constructor(keep: Keep | undefined, kernel: Kernel, changed: (keep: Keep | undefined) => void) {
    this.keep = keep
    this.kernel = kernel
    this.changed = changed
    make('legend', '', this.element).textContent = kernel.texts.keepGroups
    this.whereFields()
    this.mostFields()
  }

  private apply(change: Partial<Keep>): void {
    const { where = [], most } = { ...this.keep, ...change }
    this.keep = where.length > 0 || most ? { where, ...(most ? { most } : {}) } : undefined
    this.changed(this.keep)
  }

  /** The first condition; others that the level may have stay. */
  private whereFields(): void {
    const { texts, model } = this.kernel
    const [first, ...others] = this.keep?.where ?? []
    const line = make('div', 'field', this.element)
    make('span', '', line).textContent = texts.keepWhose
    const measures = this.measures(first?.of)
    const pick = this.pick(line, measures, first?.of, texts.keepWhose)
    const is = make('div', 'field indented', this.element)
    const phrase = make('input', 'phrase', is)
    phrase.type = 'text'
    phrase.ariaLabel = texts.keepIs
    phrase.placeholder = texts.keepIs
    const wrong = make('small', 'wrong', this.element)
    wrong.role = 'alert'
    const of = first && model.measurePhraseOf(first.of)
    phrase.value = first && of ? printPhrase(first.condition, of) : ''
    const read = (): void => {
      const measure = measures[Number(pick.value)] ?? 'size'
      const about = model.measurePhraseOf(measure)
      const asks = phrase.value.trim() !== '' && about
      const told = asks ? readPhrase(phrase.value, about) : null
      phrase.ariaInvalid = told?.ok === false ? 'true' : null
      wrong.textContent = told?.ok === false ? texts.phraseProblem(told.problem) : ''
      if (told?.ok === false) return
      this.apply({ where: told ? [{ of: measure, condition: told.condition }, ...others] : others })
    }
    phrase.addEventListener('change', read)
    pick.addEventListener('change', () => phrase.value.trim() !== '' && read())
  }

  private mostFields(): void {
    const { texts } = this.kernel
    const { most } = this.keep ?? {}
    const line = make('div', 'field', this.element)
    const on = this.check(line, texts.keepOnlyThe, most !== undefined)
    const end = make('select', '', line)
    end.ariaLabel = texts.keepOnlyThe
    makeOption(end, 'descending', texts.keepFirst)
    makeOption(end, 'ascending', texts.keepLast)
    end.value = most?.direction ?? 'descending'
    const count = make('input', 'short', line)
    count.type = 'number'
    count.min = '1'
    count.value = String(most?.count ?? USUAL_MOST)
    count.ariaLabel = texts.keepHowMany
    const by = make('div', 'field indented', this.element)
    make('span', '', by).textContent = texts.keepBy
    const measures = this.measures(most?.of)
    const pick = this.pick(by, measures, most?.of, `${texts.keepOnlyThe} ${texts.keepBy}`)
    const together = make('div', 'field indented', this.element)
    together.hidden = !this.kernel.model.canKeep({ where: [], most: TOGETHER })
    const rest = this.check(together, texts.keepRest, most?.rest === 'together')
    const apply = (): void =>
      this.apply({
        most: on.checked
          ? {
              count: Math.max(1, Math.round(Number(count.value) || 1)),
              of: measures[Number(pick.value)] ?? 'size',
              direction: end.value === 'ascending' ? 'ascending' : 'descending',
              rest: rest.checked ? 'together' : 'out',
            }
          : undefined,
      })
    count.addEventListener('input', () => (on.checked = true))
    for (const input of [on, end, count, pick, rest])
      input.addEventListener('change', () => (on.checked || input === on) && apply())
  }

  private measures(also: GroupMeasure | undefined): GroupMeasure[] {
    return measuresOf(this.kernel.model, [also])
  }

  private pick(
    parent: HTMLElement,
    measures: readonly GroupMeasure[],
    now: GroupMeasure | undefined,
    label: string,
  ): HTMLSelectElement {
    const pick = make('select', '', parent)
    pick.ariaLabel = label
    measures.forEach((measure, at) => makeOption(pick, String(at), measureName(measure, this.kernel)))
    const at = measures.findIndex(measure => JSON.stringify(measure) === JSON.stringify(now))
    pick.value = String(Math.max(0, at))
    return pick
  }

  private check(parent: HTMLElement, label: string, checked: boolean): HTMLInputElement {
    const line = make('label', 'check-line', parent)
    const box = make('input', '', line)
    box.type = 'checkbox'
    box.checked = checked
    line.append(` ${label}`)
    return box
  }
}
