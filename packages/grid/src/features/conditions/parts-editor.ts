import {
  type CalendarUnit,
  type Condition,
  type ConditionKindName,
  type ConditionPart,
  type PhraseOf,
} from '@vast-meadow/engine'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'
import { fieldsOf, partFrom, textsOf } from './part-fields.ts'

export interface PartsHost {
  readonly of: PhraseOf
  readonly kinds: readonly ConditionKindName[]
  readonly start: ConditionKindName
  set(condition: Condition | null): void
  /** What was typed and cannot be read; null: all can. What was asked before is asked meanwhile. */
  wrong(typed: string | null): void
}

/** A part as it is being edited: what was typed may not be a part yet. */
interface Draft {
  kind: ConditionKindName
  texts: string[]
  exact: boolean
  /** What there is besides texts: units of the calendar, truths, conditions of the host's own. */
  part: ConditionPart | null
}

const UNITS: readonly CalendarUnit[] = ['day', 'week', 'month', 'quarter', 'year']

/** The parts of a column's condition, each with its kind and its values; takes effect as it is typed. */
export class PartsEditor {
  readonly element = make('div', 'parts')
  private readonly texts: Texts
  private readonly host: PartsHost
  private drafts: Draft[] = []
  private match: Condition['match'] = 'all'
  private said = ''

  constructor(texts: Texts, host: PartsHost) {
    this.texts = texts
    this.host = host
  }

  /** Shows a condition; one that this editor set itself is there already. */
  show(condition: Condition | null): void {
    const said = JSON.stringify(condition)
    if (said === this.said && this.drafts.length > 0) return
    this.said = said
    this.match = condition?.match ?? 'all'
    this.drafts = condition?.parts.map(part => draftOf(part, this.host.of)) ?? [
      this.emptyDraft(this.host.start),
    ]
    this.fill()
  }

  /** Back to one empty part of the kind that the column starts with. */
  startAgain(): void {
    this.drafts = [this.emptyDraft(this.host.start)]
    this.match = 'all'
    this.fill()
    this.tell()
  }

  focus(): void {
    const first = this.element.querySelector<HTMLElement>('.part-row :is(input, select:not(.kind))')
    ;(first ?? this.element.querySelector<HTMLElement>('select'))?.focus()
  }

  private emptyDraft(kind: ConditionKindName): Draft {
    const of = this.host.of
    const fields = fieldsOf(kind, of)
    const part: ConditionPart | null = fields.calendar
      ? { kind: 'relative', which: 'this', unit: 'month' }
      : null
    return { kind, texts: fields.texts === 2 ? ['', ''] : [''], exact: false, part }
  }

  /** Sets the condition to all parts that are complete. */
  private tell(): void {
    const parts = this.drafts.flatMap(draft => this.partOf(draft) ?? [])
    const match = parts.length > 1 ? this.match : 'all'
    const condition = parts.length > 0 ? { match, parts } : null
    this.said = JSON.stringify(condition)
    this.host.set(condition)
  }

  private partOf(draft: Draft): ConditionPart | null {
    const fields = fieldsOf(draft.kind, this.host.of)
    if (fields.calendar || fields.truth || draft.kind === 'own') return draft.part
    return partFrom(draft.kind, draft.texts, draft.exact, this.host.of)
  }

  private fill(): void {
    const { element, texts, drafts } = this
    element.replaceChildren()
    if (drafts.length > 1) {
      const choice = make('label', 'match', element)
      make('span', '', choice).textContent = texts.matchWhich
      const select = this.select(choice, [
        ['all', texts.matchAll],
        ['any', texts.matchAny],
      ])
      select.value = this.match
      select.onchange = () => {
        this.match = select.value === 'any' ? 'any' : 'all'
        this.tell()
      }
    }
    drafts.forEach((draft, i) => element.append(this.partRow(draft, i)))
    const add = make('button', 'button add', element)
    add.type = 'button'
    add.textContent = texts.addPart
    add.onclick = () => {
      this.drafts.push(this.emptyDraft(this.host.start))
      this.fill()
      element.querySelector<HTMLElement>('.part-row:last-of-type :is(input, select:not(.kind))')?.focus()
    }
  }

  private partRow(draft: Draft, nth: number): HTMLElement {
    const { texts } = this
    const row = make('div', 'part-row')
    const kinds = this.host.kinds.includes(draft.kind) ? this.host.kinds : [draft.kind, ...this.host.kinds]
    const kind = this.select(
      row,
      kinds.map(name => [name, texts.kinds[name]]),
    )
    kind.classList.add('kind')
    kind.value = draft.kind
    kind.ariaLabel = texts.kindOfPart
    kind.onchange = () => {
      const chosen = kinds.find(one => one === kind.value)
      if (!chosen) return
      const next = this.emptyDraft(chosen)
      // What was typed is kept where the new kind takes a text too.
      if (next.texts.length === 1 && draft.texts[0]) next.texts = [draft.texts[0]]
      this.drafts[nth] = { ...next, exact: draft.exact }
      this.fill()
      this.element
        .querySelectorAll<HTMLElement>('.part-row')
        [nth]?.querySelector<HTMLElement>('input, select')
        ?.focus()
      this.tell()
    }
    const fields = fieldsOf(draft.kind, this.host.of)
    for (let i = 0; i < fields.texts; i++) this.textField(row, draft, i, fields.texts === 2)
    if (fields.truth) this.truthField(row, draft)
    if (fields.calendar) this.calendarFields(row, draft)
    if (draft.kind === 'own' && draft.part?.kind === 'own')
      make('code', '', row).textContent = draft.part.name
    if (this.drafts.length > 1) {
      const remove = make('button', 'remove', row)
      remove.type = 'button'
      remove.textContent = '×'
      remove.ariaLabel = texts.removePart
      remove.onclick = () => {
        this.drafts.splice(nth, 1)
        this.fill()
        this.focus()
        this.tell()
      }
    }
    if (fields.exact) this.exactBox(row, draft)
    return row
  }

  private textField(row: HTMLElement, draft: Draft, nth: number, two: boolean): void {
    const { texts } = this
    const input = make('input', 'value', row)
    input.type = 'text'
    input.autocomplete = 'off'
    input.spellcheck = false
    input.value = draft.texts[nth] ?? ''
    input.ariaLabel = two ? (nth === 0 ? texts.from : texts.to) : texts.value
    input.placeholder = two ? (nth === 0 ? texts.from : texts.to) : texts.valueHint(this.host.of.field.type)
    input.oninput = () => {
      draft.texts[nth] = input.value
      const wrong = input.value.trim() !== '' && this.partOf(draft) === null
      input.ariaInvalid = wrong ? 'true' : null
      this.host.wrong(wrong ? input.value : null)
      if (!wrong) this.tell()
    }
  }

  private exactBox(row: HTMLElement, draft: Draft): void {
    const label = make('label', 'exact', row)
    const box = make('input', '', label)
    box.type = 'checkbox'
    box.checked = draft.exact
    make('span', '', label).textContent = this.texts.exact
    box.onchange = () => {
      draft.exact = box.checked
      this.tell()
    }
  }

  private truthField(row: HTMLElement, draft: Draft): void {
    const { yes = this.texts.yes, no = this.texts.no } = this.host.of
    const select = this.select(row, [
      ['', this.texts.any],
      ['yes', yes],
      ['no', no],
    ])
    const now = draft.part && 'value' in draft.part ? draft.part.value : undefined
    select.value = now === true ? 'yes' : now === false ? 'no' : ''
    select.ariaLabel = this.texts.value
    select.onchange = () => {
      const kind = draft.kind === 'differs' ? 'differs' : 'equals'
      draft.part = select.value === '' ? null : { kind, value: select.value === 'yes' }
      this.tell()
    }
  }

  private calendarFields(row: HTMLElement, draft: Draft): void {
    const { texts } = this
    const part =
      draft.part?.kind === 'relative'
        ? draft.part
        : { which: 'this' as const, unit: 'month' as const, count: undefined }
    const which = this.select(row, [
      ['this', texts.thisOne],
      ['last', texts.lastOne],
      ['next', texts.nextOne],
    ])
    which.ariaLabel = texts.whichUnit
    which.value = part.which
    const count = make('input', 'count', row)
    count.type = 'number'
    count.min = '1'
    count.max = '10000'
    count.ariaLabel = texts.howMany
    count.value = part.count === undefined ? '' : String(part.count)
    const unit = this.select(
      row,
      UNITS.map(name => [name, texts.units[name]]),
    )
    unit.ariaLabel = texts.unit
    unit.value = part.unit
    const tell = (): void => {
      count.hidden = which.value === 'this'
      const many =
        count.hidden || !count.value
          ? undefined
          : Math.min(10_000, Math.max(1, Math.floor(Number(count.value))))
      draft.part = {
        kind: 'relative',
        which: which.value as 'this' | 'last' | 'next',
        unit: unit.value as CalendarUnit,
        ...(many === undefined || Number.isNaN(many) ? {} : { count: many }),
      }
    }
    tell()
    for (const field of [which, count, unit])
      field.addEventListener('input', () => {
        tell()
        this.tell()
      })
  }

  private select(parent: HTMLElement, choices: readonly (readonly [string, string])[]): HTMLSelectElement {
    const select = make('select', '', parent)
    for (const [value, text] of choices) makeOption(select, value, text)
    return select
  }
}

function draftOf(part: ConditionPart, of: PhraseOf): Draft {
  const texts = textsOf(part, of)
  return {
    kind: part.kind,
    texts: texts.length > 0 ? texts : [''],
    exact: 'exact' in part && part.exact === true,
    part,
  }
}
