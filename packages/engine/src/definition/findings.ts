import { kindOf, summaryFits, usualSummary, type SummaryKind } from '../summary/summary.ts'
import type { Field, FieldType } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { KeyCheck } from '../key/propose-keys.ts'
import type { ColumnReading, ColumnReadOptions } from '../read/types/column-reading.ts'
import type { TextStyle } from '../read/types/text-style.ts'
import { cellWidth, CHARACTER_PX, widthFor } from './column-width.ts'
import { titleOf } from './plain-column.ts'
import type { ColumnDefinition, Definition } from './definition.ts'
import { actionKey, styleKey } from './binding.ts'
import type { ComputedProblem } from '../expression/expressions.ts'
import type { ExpressionProblem } from '../expression/problem.ts'
import type { FlowReport } from '../flow/request.ts'
import type { Arrangement } from './arrangement-schema.ts'
import type { ArrangementChange } from './arrangement-store.ts'
import { nearestName } from '../table/nearest-name.ts'
import { sure } from '../work/checked.ts'

/** `problem`: something does not show or cannot work; `risk`: it works, but perhaps not as meant. */
export type Severity = 'problem' | 'risk'

/** What would set a finding right: another definition, columns read otherwise, or another arrangement. */
export type Remedy =
  | { readonly kind: 'define'; readonly definition: Definition }
  | { readonly kind: 'read'; readonly key: string; readonly as: ColumnReadOptions }
  | { readonly kind: 'arrange'; readonly change: ArrangementChange }

type FindingFacts =
  | { readonly code: 'field-not-in-data'; readonly key: string; readonly nearest: string | null }
  | {
      readonly code: 'key-not-in-data'
      readonly fields: readonly string[]
      readonly proposed: readonly string[] | null
    }
  | {
      readonly code: 'key-missing'
      readonly fields: readonly string[]
      readonly rows: number
      readonly proposed: readonly string[] | null
    }
  | {
      readonly code: 'key-doubled'
      readonly fields: readonly string[]
      readonly rows: number
      readonly example: readonly [number, number]
      readonly proposed: readonly string[] | null
    }
  | { readonly code: 'no-key'; readonly proposed: readonly string[] }
  | { readonly code: 'values-as-text'; readonly key: string; readonly style: TextStyle }
  | {
      readonly code: 'mixed-types'
      readonly key: string
      readonly style: TextStyle
      readonly misfits: number
      readonly examples: readonly string[]
    }
  | {
      readonly code: 'asked-type-misfits'
      readonly key: string
      readonly type: FieldType
      readonly misfits: number
      readonly examples: readonly string[]
    }
  | { readonly code: 'ambiguous'; readonly key: string; readonly style: TextStyle; readonly other: TextStyle }
  | {
      readonly code: 'texts-like-tags'
      readonly key: string
      readonly separator: string
      readonly examples: readonly string[]
    }
  | { readonly code: 'title-missing'; readonly key: string; readonly proposed: string }
  | { readonly code: 'title-doubled'; readonly key: string; readonly title: string; readonly other: string }
  | {
      readonly code: 'expression-wrong'
      /** The column's key, or of a style rule or an action its place. */
      readonly key: string
      readonly of: 'column' | 'style' | 'action'
      readonly problem: ExpressionProblem
    }
  | {
      readonly code: 'width-cuts-off'
      readonly key: string
      readonly width: number
      readonly proposed: number
      readonly share: number
    }
  | {
      readonly code: 'format-hides'
      readonly key: string
      readonly decimals: number
      readonly needed: number
    }
  | { readonly code: 'condition-on-hidden'; readonly key: string; readonly rows: number }
  | { readonly code: 'many-groups'; readonly key: string; readonly groups: number }
  | { readonly code: 'group-per-row'; readonly key: string; readonly groups: number }
  | { readonly code: 'level-adds-nothing'; readonly key: string; readonly groups: number }
  | {
      readonly code: 'summary-senseless'
      readonly key: string
      readonly summary: SummaryKind
      readonly type: FieldType
    }
  | { readonly code: 'mean-of-ratio'; readonly key: string; readonly expression: string }
  | { readonly code: 'order-refused'; readonly key: string }
  | { readonly code: 'ordered-as-text'; readonly key: string; readonly type: FieldType }
  | { readonly code: 'detail-column-absent'; readonly key: string }
  | {
      readonly code: 'deletes-without-key'
      /** What stands on the button. */
      readonly title: string
      readonly proposed: readonly string[] | null
    }
  | {
      readonly code: 'changes-without-key'
      /** A column whose cells are to be changed. */
      readonly key: string
      readonly proposed: readonly string[] | null
    }
  | {
      readonly code: 'choices-absent'
      /** The column whose choices they are to be, and the field that is not there. */
      readonly key: string
      readonly of: string
    }
  | { readonly code: 'pattern-slow'; readonly key: string; readonly ms: number }

export type FindingCode = FindingFacts['code']

/** Something that is wrong or risky in a definition on its data, and what would set it right. */
export type Finding = FindingFacts & {
  readonly severity: Severity
  /** Where in the definition, for example `columns.2.width`; empty: in how rows are read. */
  readonly place: string
  readonly remedies: readonly Remedy[]
}

export interface FindingsAsked {
  readonly definition: Definition
  readonly fields: readonly Field[]
  /** By field: some of its shown texts. */
  readonly samples: readonly (readonly string[])[]
  readonly readings: readonly ColumnReading[]
  /** How the definition's key does; null: it has none, or it was not looked at. */
  readonly key: KeyCheck | null
  /** Expressions that could not be bound. */
  readonly expressions?: readonly ComputedProblem[]
  /** Fields that would name every row. */
  readonly proposedKeys: readonly KeyCheck[]
  /** How rows are arranged now, and what the flow told of it. */
  readonly arranged?: {
    readonly arrangement: Arrangement
    readonly report: Pick<FlowReport, 'heldBack' | 'conditionMs' | 'groups' | 'passing'>
  }
}

/** Beyond this a reader notices every letter that is typed. */
const SLOW_PATTERN_MS = 150

/** Of cells, in CSS px, where the look does not say. */
const USUAL_TEXT_PX = 13

/** More groups than this are no easier to read than rows. */
const MANY_GROUPS = 10_000
/** Among fewer rows it is no surprise that each is a group. */
const MANY_ROWS = 20

/** A column cuts off when more than this share of its values is wider. */
const CUT_SHARE = 0.1

/** Everything noticed about how a definition is bound to its data; problems first. */
export function bindingFindings(asked: FindingsAsked): Finding[] {
  const found = [
    ...fieldFindings(asked),
    ...expressionFindings(asked),
    ...keyFindings(asked),
    ...readingFindings(asked),
    ...tagFindings(asked),
    ...titleFindings(asked),
    ...widthFindings(asked),
    ...formatFindings(asked),
    ...textOrderFindings(asked),
    ...arrangedFindings(asked),
    ...summaryFindings(asked),
    ...detailFindings(asked),
    ...choiceFindings(asked),
    ...actionFindings(asked),
  ]
  return found.sort((a, b) => Number(a.severity === 'risk') - Number(b.severity === 'risk'))
}

/** The definition with one column changed; `null`: without it. */
function withColumn(
  definition: Definition,
  key: string,
  change: Partial<ColumnDefinition> | null,
): Extract<Remedy, { kind: 'define' }> {
  const columns = definition.columns.flatMap(column =>
    column.key !== key ? [column] : change ? [{ ...column, ...change }] : [],
  )
  return { kind: 'define', definition: { ...definition, columns } }
}

function* fieldFindings({ definition, fields }: FindingsAsked): Iterable<Finding> {
  const known = new Set(fields.map(field => field.key))
  const shown = new Set(definition.columns.map(column => column.key))
  const free = [...known].filter(key => !shown.has(key))
  for (const [i, { key, expression }] of definition.columns.entries()) {
    if (known.has(key) || expression !== undefined) continue
    const nearest = nearestName(key, free)
    const remedies = [withColumn(definition, key, null)]
    if (nearest !== null) remedies.unshift(withColumn(definition, key, { key: nearest }))
    yield {
      code: 'field-not-in-data',
      severity: 'problem',
      place: `columns.${i}.key`,
      key,
      nearest,
      remedies,
    }
  }
}

/** Open rows list columns that are not there. */
function* detailFindings({ definition }: FindingsAsked): Iterable<Finding> {
  const { detail, columns } = definition
  for (const [nth, key] of (detail?.columns ?? []).entries()) {
    if (columns.some(column => column.key === key)) continue
    const without = { ...sure(detail), columns: sure(detail?.columns).toSpliced(nth, 1) }
    const remedies: Remedy[] = [{ kind: 'define', definition: { ...definition, detail: without } }]
    yield { code: 'detail-column-absent', severity: 'problem', place: `detail.columns.${nth}`, key, remedies }
  }
}

/** What is to be chosen among fields that are not there. */
function* choiceFindings({ definition, fields }: FindingsAsked): Iterable<Finding> {
  const known = new Set(fields.map(field => field.key))
  for (const [nth, { key, edit }] of definition.columns.entries()) {
    const { choices } = edit ?? {}
    if (!edit || !choices || !('of' in choices)) continue
    const of = [choices.of, ...choices.like].find(field => !known.has(field))
    if (of === undefined) continue
    const { choices: _, ...without } = edit
    const remedies = [withColumn(definition, key, { edit: without })]
    yield {
      code: 'choices-absent',
      severity: 'problem',
      place: `columns.${nth}.edit.choices`,
      key,
      of,
      remedies,
    }
  }
}

/** Rows that nothing names cannot be taken out, or changed. */
function* actionFindings({ definition, proposedKeys }: FindingsAsked): Iterable<Finding> {
  if (definition.key.length > 0) return
  const ofRows = definition.columns.flatMap(({ cell }) => (cell.kind === 'actions' ? cell.actions : []))
  const action = [...ofRows, ...definition.actions].find(({ deletes }) => deletes)
  const edited = definition.columns.find(({ edit }) => edit !== undefined)
  const proposed = proposedKeys.at(0)?.fields ?? null
  const remedies: Remedy[] = proposed
    ? [{ kind: 'define', definition: { ...definition, key: [...proposed] } }]
    : []
  const facts = { severity: 'problem', place: 'key', proposed, remedies } as const
  if (action) yield { code: 'deletes-without-key', title: action.title, ...facts }
  if (edited) yield { code: 'changes-without-key', key: edited.key, ...facts }
}

function* expressionFindings({ definition, expressions = [] }: FindingsAsked): Iterable<Finding> {
  const { columns, styles } = definition
  for (const { key, problem } of expressions) {
    const facts = { code: 'expression-wrong', severity: 'problem', key, problem } as const
    const column = columns.findIndex(other => other.key === key)
    const style = styles.findIndex((_, nth) => styleKey(nth) === key)
    const acting = columns.findIndex(
      ({ key: name, cell }) =>
        cell.kind === 'actions' && cell.actions.some(action => actionKey(name, action.name) === key),
    )
    if (column >= 0)
      yield {
        ...facts,
        of: 'column',
        place: `columns.${column}.expression`,
        remedies: [withColumn(definition, key, null)],
      }
    else if (style >= 0) {
      const remedies: Remedy[] = [
        { kind: 'define', definition: { ...definition, styles: styles.toSpliced(style, 1) } },
      ]
      yield { ...facts, key: String(style + 1), of: 'style', place: `styles.${style}.when`, remedies }
    } else if (acting >= 0)
      yield {
        ...facts,
        key: columns[acting].key,
        of: 'action',
        place: `columns.${acting}.cell`,
        remedies: [],
      }
  }
}

function* keyFindings({ definition, fields, key, proposedKeys }: FindingsAsked): Iterable<Finding> {
  const { key: keyFields } = definition
  const proposed = proposedKeys[0]?.fields ?? null
  const remedies: Remedy[] = []
  if (proposed) remedies.push({ kind: 'define', definition: { ...definition, key: [...proposed] } })
  if (keyFields.length > 0) remedies.push({ kind: 'define', definition: { ...definition, key: [] } })
  const place = 'key'
  if (keyFields.length === 0) {
    if (proposed) yield { code: 'no-key', severity: 'risk', place, proposed, remedies }
  } else if (keyFields.some(name => !fields.some(field => field.key === name))) {
    yield { code: 'key-not-in-data', severity: 'problem', place, fields: keyFields, proposed, remedies }
  } else if (key && key.missing > 0) {
    yield {
      code: 'key-missing',
      severity: 'problem',
      place,
      fields: keyFields,
      rows: key.missing,
      proposed,
      remedies,
    }
  } else if (key && key.doubled > 0) {
    const [{ first, row }] = key.examples
    const facts = { fields: keyFields, rows: key.doubled, example: [first, row] as const, proposed }
    yield { code: 'key-doubled', severity: 'problem', place, ...facts, remedies }
  }
}

function* readingFindings({ readings }: FindingsAsked): Iterable<Finding> {
  for (const { key, type, asked, style, likely, ambiguous, misfits } of readings) {
    const examples = misfits.examples.map(({ text }) => text)
    const as = (chosen: TextStyle): Remedy => ({ kind: 'read', key, as: chosen })
    const asText: Remedy = { kind: 'read', key, as: { type: 'text' } }
    if (asked && misfits.count > 0) {
      const facts = { key, type, misfits: misfits.count, examples }
      yield { code: 'asked-type-misfits', severity: 'risk', place: '', ...facts, remedies: [asText] }
    } else if (!asked && likely && misfits.count > 0) {
      const facts = { key, style: likely, misfits: misfits.count, examples }
      yield { code: 'mixed-types', severity: 'risk', place: '', ...facts, remedies: [as(likely)] }
    } else if (!asked && likely) {
      yield {
        code: 'values-as-text',
        severity: 'risk',
        place: '',
        key,
        style: likely,
        remedies: [as(likely)],
      }
    }
    if (!asked && style && ambiguous) {
      const remedies = [as(ambiguous), as(style)]
      yield { code: 'ambiguous', severity: 'risk', place: '', key, style, other: ambiguous, remedies }
    }
  }
}

/** Signs that part tags, the surest first. */
const TAG_SIGNS = [';', '|', ','] as const
/** Of the values that are there, those that must be lists; and how long one tag may be. */
const [LISTS, TAG_LENGTH] = [1 / 4, 24]

/** Texts that list the same few words again and again. */
function* tagFindings({ fields, samples, readings }: FindingsAsked): Iterable<Finding> {
  for (const [place, { key, type }] of fields.entries()) {
    const reading = readings.find(one => one.key === key)
    const texts = samples[place]?.filter(text => text !== '') ?? []
    if (type !== 'text' || !reading || reading.asked || texts.length < 8) continue
    const separator = TAG_SIGNS.find(sign => {
      const lists = texts.filter(text => text.includes(sign))
      const tags = texts.flatMap(text => text.split(sign).map(tag => tag.trim()))
      const short = tags.every(tag => tag.length > 0 && tag.length <= TAG_LENGTH)
      const many = lists.length >= texts.length * LISTS && new Set(tags).size <= tags.length / 2
      return short && many && recombine(texts, sign)
    })
    if (!separator) continue
    const remedies: Remedy[] = [{ kind: 'read', key, as: { type: 'tags', separator } }]
    const examples = texts.filter(text => text.includes(separator)).slice(0, 2)
    yield { code: 'texts-like-tags', severity: 'risk', place: '', key, separator, examples, remedies }
  }
}

/** Whether what stands between the signs comes in several texts, as tags do; the halves of a sentence come together. */
function recombine(texts: readonly string[], sign: string): boolean {
  const textsOf = new Map<string, number>()
  for (const text of new Set(texts))
    for (const tag of new Set(text.split(sign).map(part => part.trim())))
      textsOf.set(tag, (textsOf.get(tag) ?? 0) + 1)
  const recurring = [...textsOf.values()].filter(count => count > 1).length
  return recurring * 2 >= textsOf.size
}

function* titleFindings({ definition }: FindingsAsked): Iterable<Finding> {
  const first = new Map<string, string>()
  for (const [i, { key, title }] of definition.columns.entries()) {
    const place = `columns.${i}.title`
    const shown = title.trim()
    if (shown === '') {
      const proposed = titleOf(key)
      const remedies = [withColumn(definition, key, { title: proposed })]
      yield { code: 'title-missing', severity: 'problem', place, key, proposed, remedies }
    } else if (first.has(shown)) {
      const remedies = [withColumn(definition, key, { title: `${shown} (${titleOf(key)})` })]
      yield {
        code: 'title-doubled',
        severity: 'risk',
        place,
        key,
        title: shown,
        other: sure(first.get(shown)),
        remedies,
      }
    } else first.set(shown, key)
  }
}

function* widthFindings({ definition, fields, samples }: FindingsAsked): Iterable<Finding> {
  const characterPx = (CHARACTER_PX * (definition.look.textSize ?? USUAL_TEXT_PX)) / USUAL_TEXT_PX
  for (const [i, column] of definition.columns.entries()) {
    const { key, width } = column
    const at = fields.findIndex(field => field.key === key)
    const widths = (samples[at] ?? [])
      .filter(Boolean)
      .map(text => cellWidth(column, fields[at], text, characterPx))
    const cut = widths.filter(wanted => wanted > width + 8).length
    const proposed = widthFor([], widths)
    if (widths.length === 0 || cut / widths.length <= CUT_SHARE || proposed <= width) continue
    const facts = { key, width, proposed, share: cut / widths.length }
    const remedies = [withColumn(definition, key, { width: proposed })]
    yield { code: 'width-cuts-off', severity: 'risk', place: `columns.${i}.width`, ...facts, remedies }
  }
}

function* formatFindings({ definition, fields, samples }: FindingsAsked): Iterable<Finding> {
  for (const [i, { key, format }] of definition.columns.entries()) {
    const at = fields.findIndex(field => field.key === key)
    const field = fields[at]
    if (field?.type !== 'number' || format.decimals === undefined) continue
    const needed = field.decimals ?? 0
    const show = shower(field, format)
    const written = new Set((samples[at] ?? []).filter(Boolean).map(Number))
    const shown = new Set([...written].map(show))
    if (format.decimals >= needed || shown.size === written.size) continue
    const remedies = [withColumn(definition, key, { format: { ...format, decimals: needed } })]
    const facts = { key, decimals: format.decimals, needed }
    yield { code: 'format-hides', severity: 'risk', place: `columns.${i}.format`, ...facts, remedies }
  }
}

function* textOrderFindings({ definition, fields }: FindingsAsked): Iterable<Finding> {
  for (const [i, { key, order }] of definition.columns.entries()) {
    const type = fields.find(field => field.key === key)?.type
    if (order.by !== 'shown' || order.natural || !type || !VALUED.includes(type)) continue
    const remedies = [withColumn(definition, key, { order: { ...order, by: 'value' } })]
    yield { code: 'ordered-as-text', severity: 'risk', place: `columns.${i}.order.by`, key, type, remedies }
  }
}

/** Types whose texts do not stand in the order of their values. */
const VALUED: readonly string[] = ['integer', 'number', 'date', 'time', 'datetime']

/** Summaries that say nothing, or something else than they seem to. */
function* summaryFindings({ definition, fields, arranged }: FindingsAsked): Iterable<Finding> {
  const summaries = arranged?.arrangement.summaries ?? {}
  for (const [key, summary] of Object.entries(summaries)) {
    const type = fields.find(field => field.key === key)?.type
    if (!type) continue
    const others = Object.fromEntries(Object.entries(summaries).filter(([other]) => other !== key))
    const without: Remedy = { kind: 'arrange', change: { summaries: others } }
    const place = `summaries.${key}`
    const kind = kindOf(summary)
    if (!summaryFits(summary, type)) {
      const usual: Remedy = {
        kind: 'arrange',
        change: { summaries: { ...summaries, [key]: usualSummary(type) } },
      }
      const remedies = [usual, without]
      yield { code: 'summary-senseless', severity: 'risk', place, key, summary: kind, type, remedies }
    }
    const expression = definition.columns.find(column => column.key === key)?.expression
    if (kind === 'mean' && expression?.includes('/'))
      yield { code: 'mean-of-ratio', severity: 'risk', place, key, expression, remedies: [without] }
  }
}

/** What is risky in the way rows are arranged now. */
function* arrangedFindings({ definition, arranged }: FindingsAsked): Iterable<Finding> {
  if (!arranged) return
  const { arrangement, report } = arranged
  const { hidden, conditions, order, groups } = arrangement
  for (const [level, { column: key }] of groups.entries()) {
    const count = report.groups[level] ?? 0
    const above = level > 0 ? report.groups[level - 1] : 1
    const without: Remedy = { kind: 'arrange', change: { groups: groups.filter((_, i) => i !== level) } }
    const place = `groups.${level}`
    if (count > MANY_GROUPS)
      yield { code: 'many-groups', severity: 'risk', place, key, groups: count, remedies: [without] }
    else if (count > MANY_ROWS && count === report.passing)
      yield { code: 'group-per-row', severity: 'risk', place, key, groups: count, remedies: [without] }
    else if (level > 0 && count > 1 && count === above)
      yield { code: 'level-adds-nothing', severity: 'risk', place, key, groups: count, remedies: [without] }
  }
  const without = (key: string): Arrangement['conditions'] =>
    Object.fromEntries(Object.entries(conditions).filter(([other]) => other !== key))
  for (const [key, { parts }] of Object.entries(conditions)) {
    const lift: Remedy = { kind: 'arrange', change: { conditions: without(key) } }
    const place = `conditions.${key}`
    if (hidden.includes(key)) {
      const show: Remedy = { kind: 'arrange', change: { hidden: hidden.filter(other => other !== key) } }
      const rows = report.heldBack[key] ?? 0
      yield { code: 'condition-on-hidden', severity: 'risk', place, key, rows, remedies: [show, lift] }
    }
    const ms = report.conditionMs[key] ?? 0
    if (parts.some(({ kind }) => kind === 'pattern') && ms > SLOW_PATTERN_MS)
      yield { code: 'pattern-slow', severity: 'risk', place, key, ms: Math.round(ms), remedies: [lift] }
  }
  for (const { column: key } of order) {
    if (definition.columns.find(column => column.key === key)?.orderable !== false) continue
    const others = order.filter(({ column }) => column !== key)
    const remedies: Remedy[] = [
      { kind: 'arrange', change: { order: others } },
      withColumn(definition, key, { orderable: true }),
    ]
    yield { code: 'order-refused', severity: 'risk', place: 'order', key, remedies }
  }
}
