import type { Tree } from './tree.ts'

/** Operators by strength, the weakest first; `?:` is weaker than all of them. */
const STRENGTHS: readonly (readonly string[])[] = [
  ['||'],
  ['&&'],
  ['==', '!=', '<', '<=', '>', '>=', 'in'],
  ['+', '-'],
  ['*', '/', '%'],
]
const UNARY = STRENGTHS.length + 1
const ATOM = UNARY + 1

/** An expression as text that reads back as the same tree, with no more brackets than that needs. */
export const printTree = (tree: Tree): string => print(tree).text

/** `strength`: of the weakest operator that is not within brackets. */
function print(tree: Tree): { readonly text: string; readonly strength: number } {
  switch (tree.kind) {
    case 'literal':
      return { text: printLiteral(tree.value), strength: ATOM }
    case 'name':
      return { text: tree.name, strength: ATOM }
    case 'field':
      return { text: `row[${JSON.stringify(tree.key)}]`, strength: ATOM }
    case 'list':
      return { text: `[${tree.items.map(printTree).join(', ')}]`, strength: ATOM }
    case 'call':
      return printCall(tree)
  }
}

const printLiteral = (value: string | number | boolean | null): string =>
  typeof value === 'string' ? JSON.stringify(value) : String(value)

function printCall(tree: Extract<Tree, { kind: 'call' }>): { text: string; strength: number } {
  const { name, method, args } = tree
  if (name === '?:') {
    const [condition, yes, no] = args
    return { text: `${at(condition, 1)} ? ${at(yes, 1)} : ${at(no, 0)}`, strength: 0 }
  }
  if ((name === '!' || name === '-') && args.length === 1)
    return { text: `${name}${at(args[0], ATOM)}`, strength: UNARY }
  const strength = STRENGTHS.findIndex(operators => operators.includes(name)) + 1
  if (strength > 0) {
    const [left, right] = args
    return { text: `${at(left, strength)} ${name} ${at(right, strength + 1)}`, strength }
  }
  if (!method) return { text: `${name}(${args.map(printTree).join(', ')})`, strength: ATOM }
  const [target, ...others] = args
  return { text: `${at(target, ATOM)}.${name}(${others.map(printTree).join(', ')})`, strength: ATOM }
}

/** A part where something of at least a strength must stand. */
function at(tree: Tree, least: number): string {
  const { text, strength } = print(tree)
  return strength < least ? `(${text})` : text
}
