import type { Clock } from '../condition/clock.ts'
import type { Condition, ConditionPart } from '../condition/condition.ts'
import { kindNamed } from '../condition/kinds/index.ts'
import type { Ask, Bound, PartProblem } from '../condition/kinds/kind.ts'
import { fold, stripAccents } from '../search/fold.ts'
import type { Capabilities, Property } from './schema.ts'
import { literal, quoted } from './values.ts'

/** The service's own function that takes off case, accents and strokes as the grid does. */
export const FOLD = 'VastMeadow.fold'

/** What is met by no row. */
export const NOTHING = 'false'

export const both = (parts: readonly string[]): string => joined(parts, ' and ')
export const either = (parts: readonly string[]): string => joined(parts, ' or ')
const joined = (parts: readonly string[], by: string): string =>
  parts.length === 1 ? parts[0] : `(${parts.join(by)})`

/** How texts are compared without regard to case: as the grid does it where the service can, else by its small letters. */
export const folded = (path: string, { functions }: Capabilities): string =>
  functions.has(FOLD) ? `${FOLD}(${path})` : `tolower(${path})`

/** A text as `folded` makes those of the service. */
export const foldedText = (text: string, { functions }: Capabilities): string =>
  quoted(functions.has(FOLD) ? fold(text).normalize('NFC') : text.toLowerCase())

/** That a value is one of some literals, which are at least one. */
export const oneOf = (
  name: string,
  literals: readonly string[],
  { lists }: Pick<Capabilities, 'lists'>,
): string => (lists ? `${name} in (${literals.join(',')})` : either(literals.map(one => `${name} eq ${one}`)))

/** Types of numbers that no double tells apart. */
const EXACT = new Set(['Int64', 'Decimal'])

/** Which functions a kind of condition needs beside comparisons. */
export const KIND_FUNCTIONS: Readonly<Partial<Record<ConditionPart['kind'], string>>> = {
  contains: 'contains',
  excludes: 'contains',
  starts: 'startswith',
  ends: 'endswith',
  pattern: 'matchespattern',
}

/** What a part asks as a filter, or why it cannot be asked: no row meets it then. */
type PartFilter = { readonly filter: string; readonly problem?: PartProblem }

export interface ConditionFilter {
  readonly filter: string
  readonly problems: readonly PartProblem[]
}

/** A condition on a property as a filter of the protocol. */
export function conditionFilter(
  condition: Condition,
  property: Property,
  can: Capabilities,
  clock: Clock,
): ConditionFilter {
  const parts = condition.parts.map(part => partFilter(part, property, can, clock))
  const filters = parts.map(({ filter }) => filter)
  return {
    filter: condition.match === 'any' ? either(filters) : both(filters),
    problems: parts.flatMap(({ problem }) => problem ?? []),
  }
}

function partFilter(part: ConditionPart, property: Property, can: Capabilities, clock: Clock): PartFilter {
  const needed = KIND_FUNCTIONS[part.kind]
  const { field } = property
  if (part.kind === 'own' || (needed && !can.functions.has(needed)))
    return { filter: NOTHING, problem: { code: 'not-for-type', kind: part.kind, type: field.type } }
  if (field.type === 'text') return { filter: textFilter(part, property, can) }
  if (field.type === 'tags') return { filter: tagsFilter(part, property, can) }
  const asked = EXACT.has(property.edm) ? { ...field, wide: true } : field
  const ask = kindNamed(part.kind).ask(part, { field: asked, clock, pattern: null, own: {} })
  return askFilter(ask, property)
}

/** Of numbers, dates and truths: what they ask in the few shapes that columns answer. */
function askFilter(ask: Ask, property: Property): PartFilter {
  const { path } = property
  const present = `${path} ne null`
  switch (ask.by) {
    case 'presence':
      return { filter: ask.missing ? `${path} eq null` : present }
    case 'truth': {
      const truths = [true, false].filter(truth => ask.truths.includes(truth) !== (ask.none ?? false))
      return { filter: truths.length === 0 ? NOTHING : either(truths.map(truth => `${path} eq ${truth}`)) }
    }
    case 'spans': {
      const spans = ask.spans.map(({ from, to }) => {
        if (from === to) return `${path} eq ${literal(property, from)}`
        // Services take no value for nought here and there, though the protocol has it below nothing and above nothing.
        const ends: string[] = [present]
        if (isClosed(from)) ends.push(`${path} ${ask.above ? 'gt' : 'ge'} ${literal(property, from)}`)
        if (isClosed(to)) ends.push(`${path} ${ask.below ? 'lt' : 'le'} ${literal(property, to)}`)
        return both(ends)
      })
      return { filter: ask.none ? both([present, `not (${either(spans)})`]) : either(spans) }
    }
    case 'nothing':
      return { filter: NOTHING, problem: ask.problem }
    default:
      return { filter: NOTHING }
  }
}

const isClosed = (bound: Bound): boolean => bound !== Infinity && bound !== -Infinity

function textFilter(part: ConditionPart, { path }: Property, can: Capabilities): string {
  const present = `${path} ne null`
  const exact = 'exact' in part && part.exact === true
  const name = exact ? path : folded(path, can)
  const said = (text: string): string => (exact ? quoted(text) : foldedText(text, can))
  const among = (values: readonly unknown[]): string =>
    oneOf(
      name,
      values.map(value => said(String(value))),
      can,
    )
  switch (part.kind) {
    case 'contains':
      return `contains(${name},${said(part.text)})`
    case 'excludes':
      return both([present, `not contains(${name},${said(part.text)})`])
    case 'starts':
      return `startswith(${name},${said(part.text)})`
    case 'ends':
      return `endswith(${name},${said(part.text)})`
    case 'pattern':
      return `matchespattern(${name},${quoted(exact ? part.pattern : `(?i)${stripAccents(part.pattern)}`)})`
    case 'equals':
      return `${name} eq ${said(String(part.value))}`
    case 'differs':
      return both([present, `${name} ne ${said(String(part.value))}`])
    case 'one-of':
      return among(part.values)
    case 'none-of':
      return both([present, `not (${among(part.values)})`])
    case 'missing':
      return `${path} eq null`
    case 'present':
      return present
    default:
      return NOTHING
  }
}

function tagsFilter(part: ConditionPart, { path }: Property, can: Capabilities): string {
  const exact = 'exact' in part && part.exact === true
  const name = exact ? 'tag' : folded('tag', can)
  const said = (text: unknown): string => (exact ? quoted(String(text)) : foldedText(String(text), can))
  const any = (values: readonly unknown[]): string => `${path}/any(tag:${oneOf(name, values.map(said), can)})`
  switch (part.kind) {
    case 'one-of':
      return any(part.values)
    case 'none-of':
      return both([`${path}/any()`, `not ${any(part.values)}`])
    case 'all-of':
      return both(part.values.map(value => any([value])))
    case 'missing':
      return `not ${path}/any()`
    case 'present':
      return `${path}/any()`
    default:
      return NOTHING
  }
}
