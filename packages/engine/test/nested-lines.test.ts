import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { NestedLines, type LevelOfGroups, type PlaceOfLine } from '../src/layout/nested-lines.ts'
import { emptyBits, setBit } from '../src/table/bits.ts'

/** A group of the oracle: groups in it, or how many rows. */
interface Node {
  readonly open: boolean
  readonly inside: readonly Node[] | number
}

const nodes = (depth: number): fc.Arbitrary<Node[]> =>
  fc.array(
    fc.record({
      open: fc.boolean(),
      inside: depth === 1 ? fc.integer({ min: 1, max: 4 }) : nodes(depth - 1).filter(list => list.length > 0),
    }),
    { maxLength: 4 },
  )

const trees = fc.integer({ min: 1, max: 4 }).chain(depth =>
  fc.record({
    depth: fc.constant(depth),
    tree: nodes(depth).filter(list => list.length > 0),
    feet: fc.array(fc.boolean(), { minLength: depth, maxLength: depth }),
  }),
)

/** Every line, written down one by one; also of which group each row and each group is shown. */
function flat(tree: readonly Node[], feet: readonly boolean[]) {
  const lines: PlaceOfLine[] = []
  const lineOfRow: number[] = []
  const lineOfGroup: number[][] = feet.map(() => [])
  const counts = feet.map(() => 0)
  let row = 0
  const visit = (node: Node, level: number, shownBy: number | null): void => {
    const group = counts[level]++
    const line = shownBy ?? lines.push({ kind: 'head', level, group }) - 1
    lineOfGroup[level].push(line)
    const hiddenBy = shownBy ?? (node.open ? null : line)
    if (typeof node.inside === 'number') {
      for (let i = 0; i < node.inside; i++, row++) {
        lineOfRow.push(hiddenBy ?? lines.length)
        if (hiddenBy === null) lines.push({ kind: 'row', level: level + 1, row })
      }
    } else for (const inner of node.inside) visit(inner, level + 1, hiddenBy)
    if (hiddenBy === null && feet[level]) lines.push({ kind: 'foot', level, group })
  }
  for (const node of tree) visit(node, 0, null)
  return { lines, lineOfRow, lineOfGroup }
}

/** The same tree in typed arrays. */
function levelsOf(tree: readonly Node[], feet: readonly boolean[]): LevelOfGroups[] {
  const starts: number[][] = feet.map(() => [])
  const children: number[][] = feet.map(() => [])
  const open: boolean[][] = feet.map(() => [])
  let row = 0
  const visit = (node: Node, level: number): void => {
    starts[level].push(row)
    open[level].push(node.open)
    if (typeof node.inside === 'number') row += node.inside
    else {
      children[level].push(starts[level + 1].length)
      for (const inner of node.inside) visit(inner, level + 1)
    }
  }
  for (const node of tree) visit(node, 0)
  return feet.map((foot, level) => {
    const bits = emptyBits(open[level].length)
    open[level].forEach((is, group) => is && setBit(bits, group))
    const lowest = level === feet.length - 1
    return {
      starts: Uint32Array.from([...starts[level], row]),
      children: lowest ? null : Uint32Array.from([...children[level], starts[level + 1].length]),
      open: bits,
      feet: foot,
    }
  })
}

describe('lines of groups at any depth', () => {
  it('are those of a list of all lines', () => {
    fc.assert(
      fc.property(trees, ({ tree, feet }) => {
        const { lines, lineOfRow, lineOfGroup } = flat(tree, feet)
        const nested = new NestedLines(levelsOf(tree, feet))
        expect(nested.lineCount).toBe(lines.length)
        expect(lines.map((_, line) => nested.at(line))).toEqual(lines)
        expect(lineOfRow.map((_, row) => nested.lineOfRow(row))).toEqual(lineOfRow)
        expect(
          lineOfGroup.map((of, level) => of.map((_, group) => nested.lineOfGroup(level, group))),
        ).toEqual(lineOfGroup)
      }),
    )
  })

  it('are refused beyond the last', () => {
    const nested = new NestedLines(levelsOf([{ open: true, inside: 2 }], [false]))
    expect(nested.lineCount).toBe(3)
    expect(() => nested.at(3)).toThrow('no line 3 of 3')
    expect(() => nested.at(-1)).toThrow('no line -1')
  })
})
