import type { Condition, ConditionPart } from '../condition/condition.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Unasked } from '../service/unasked.ts'
import type { ListingConditions, ListingOptions } from './listing-options.ts'

export interface AskedOfListing {
  /** What the service is asked, beside which part of its list. */
  readonly params: Readonly<Record<string, string>>
  readonly unasked: readonly Unasked[]
  /** The request without what the service is asked: what is left to be done with the rows that it lists. */
  readonly left: ViewRequest
}

/** Turns a request into parameters, as far as the service has some. */
export function askListing(request: ViewRequest, options: ListingOptions): AskedOfListing {
  const params: Record<string, string> = {}
  const unasked: Unasked[] = []
  const conditions: Record<string, Condition> = {}
  let { search, order } = request
  if (search.trim() !== '') {
    if (options.search !== undefined) {
      params[options.search] = search.trim()
      search = ''
    } else unasked.push({ what: 'search' })
  }
  for (const [column, condition] of Object.entries(request.conditions)) {
    const said = conditionParams(condition, options.conditions?.[column])
    if (said && Object.keys(said).every(name => !(name in params))) Object.assign(params, said)
    else {
      conditions[column] = condition
      unasked.push({ what: 'condition', column })
    }
  }
  if (order.length > 0) {
    const said = orderText(request, options.order)
    if (said === null) unasked.push({ what: 'order' })
    else {
      params[options.order?.parameter ?? ''] = said
      order = []
    }
  }
  if (request.groups.length > 0) unasked.push({ what: 'groups' })
  return { params, unasked, left: { ...request, search, order, conditions } }
}

function orderText({ order }: ViewRequest, how: ListingOptions['order']): string | null {
  if (!how) return null
  const { ascending = '{field}', descending = '-{field}', between = ',', fields } = how
  if (between === null && order.length > 1) return null
  if (order.some(({ column, by }) => (fields && !fields.includes(column)) || by === 'shown')) return null
  return order
    .map(({ column, direction }) =>
      (direction === 'ascending' ? ascending : descending).replaceAll('{field}', column),
    )
    .join(between ?? '')
}

/** The parameters for a condition; null: the service has none that say it. */
function conditionParams(
  { match, parts }: Condition,
  known: ListingConditions | undefined,
): Record<string, string> | null {
  // Parameters are met all together.
  if (!known || (match === 'any' && parts.length > 1)) return null
  const params: Record<string, string> = {}
  for (const part of parts) {
    const said = partParams(part, known)
    if (!said || Object.keys(said).some(name => name in params)) return null
    Object.assign(params, said)
  }
  return params
}

/** A number, or a day written in full: a year or a month names more than one value, which a parameter would not say. */
const amount = (given: string | number): string | number | null =>
  typeof given === 'number' || /^(-?\d+(\.\d+)?|\d{4}-\d\d-\d\d(T[\d:.Z+-]+)?)$/.test(given) ? given : null

function partParams(part: ConditionPart, known: ListingConditions): Record<string, string> | null {
  const by = (
    parameter: string | undefined,
    value: string | number | boolean | null | undefined,
  ): Record<string, string> | null =>
    parameter === undefined || value === null || value === undefined ? null : { [parameter]: String(value) }
  switch (part.kind) {
    case 'equals':
      return by(known.equals, part.value)
    case 'above':
    case 'below':
      return by(known[part.kind], amount(part.value))
    case 'at-least':
      return by(known.from, amount(part.value))
    case 'at-most':
      return by(known.to, amount(part.value))
    case 'contains':
    case 'starts':
    case 'ends':
      return by(known[part.kind], part.text)
    case 'one-of': {
      const several = known['one-of']
      if (several === undefined) return part.values.length === 1 ? by(known.equals, part.values[0]) : null
      const { parameter, between } =
        typeof several === 'string' ? { parameter: several, between: ',' } : several
      const texts = part.values.map(String)
      // A value that holds what stands between them would be read as two.
      return texts.some(text => text.includes(between)) ? null : { [parameter]: texts.join(between) }
    }
    case 'range': {
      const from = part.from === undefined ? {} : by(known.from, amount(part.from))
      const to = part.to === undefined ? {} : by(known.to, amount(part.to))
      return from && to && { ...from, ...to }
    }
    default:
      return null
  }
}
