/** The characters of an expression's text that something is about: from `from` up to `to`, counted in UTF-16 units. */
export interface TextRange {
  readonly from: number
  readonly to: number
}

/** An expression as it is written, before anybody knows what its names stand for. Plain data. */
export type Tree = { readonly at: TextRange } & (
  | { readonly kind: 'literal'; readonly value: string | number | boolean | null }
  /** A name with its points: `cover`, `place.site`. */
  | { readonly kind: 'name'; readonly name: string }
  /** A field by any key: `row["Cover %"]`. */
  | { readonly kind: 'field'; readonly key: string }
  /** An operator, a function, or a method, whose first argument is what stands before the point. */
  | { readonly kind: 'call'; readonly name: string; readonly method: boolean; readonly args: readonly Tree[] }
  | { readonly kind: 'list'; readonly items: readonly Tree[] }
)

/** Every part of a tree, itself first. */
export function* partsOf(tree: Tree): Iterable<Tree> {
  yield tree
  const inner = tree.kind === 'call' ? tree.args : tree.kind === 'list' ? tree.items : []
  for (const part of inner) yield* partsOf(part)
}
