import type { Overload, Scalar } from './functions/scalar-function.ts'
import type { ValueType } from './problem.ts'

export type Comparison = '==' | '!=' | '<' | '<=' | '>' | '>='
export type Arithmetic = '+' | '-' | '*' | '/' | '%'

/** An expression whose names are found and whose types fit; what kernels are made from. */
export type Typed = {
  readonly type: ValueType
  /** Of numbers: digits after the point, as far as the data and the operations tell; 0: they are whole. */
  readonly decimals: number
  /** Of dates with time: they are instants, else wall time. */
  readonly zoned?: boolean
} & (
  | { readonly kind: 'constant'; readonly value: Scalar }
  | { readonly kind: 'field'; readonly place: number }
  /** The row's place in its source, from 1. */
  | { readonly kind: 'row-number' }
  | { readonly kind: 'has'; readonly place: number }
  | { readonly kind: 'not'; readonly of: Typed }
  | { readonly kind: 'both' | 'either'; readonly left: Typed; readonly right: Typed }
  /** Of numbers and what is kept as such. */
  | { readonly kind: 'compare'; readonly operator: Comparison; readonly left: Typed; readonly right: Typed }
  | {
      readonly kind: 'arithmetic'
      readonly operator: Arithmetic
      readonly left: Typed
      readonly right: Typed
    }
  | { readonly kind: 'choose'; readonly condition: Typed; readonly yes: Typed; readonly no: Typed }
  | { readonly kind: 'call'; readonly apply: Overload['apply']; readonly args: readonly Typed[] }
)

/** The places of the fields that an expression reads. */
export function placesOf(typed: Typed): Set<number> {
  const places = new Set<number>()
  const visit = (part: Typed): void => {
    if (part.kind === 'field' || part.kind === 'has') places.add(part.place)
    for (const inner of argsOf(part)) visit(inner)
  }
  visit(typed)
  return places
}

function argsOf(typed: Typed): readonly Typed[] {
  switch (typed.kind) {
    case 'not':
      return [typed.of]
    case 'both':
    case 'either':
    case 'compare':
    case 'arithmetic':
      return [typed.left, typed.right]
    case 'choose':
      return [typed.condition, typed.yes, typed.no]
    case 'call':
      return typed.args
    default:
      return []
  }
}
