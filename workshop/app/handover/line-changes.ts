import { diffLines } from 'diff'
import type { HandedFile } from './hand-over'

export interface ChangedLine {
  readonly kind: 'same' | 'added' | 'removed'
  readonly text: string
}

export interface ChangedFile {
  readonly path: string
  readonly lines: readonly ChangedLine[]
  readonly added: number
  readonly removed: number
}

/** Of the files that are others than before, each line with what became of it. */
export function changedFiles(before: readonly HandedFile[], now: readonly HandedFile[]): ChangedFile[] {
  const paths = [...new Set([...now, ...before].map(({ path }) => path))]
  return paths.flatMap(path => {
    const [old, fresh] = [textOf(before, path), textOf(now, path)]
    return old === fresh ? [] : [changedFile(path, old, fresh)]
  })
}

const textOf = (files: readonly HandedFile[], path: string): string =>
  files.find(file => file.path === path)?.text ?? ''

function changedFile(path: string, before: string, now: string): ChangedFile {
  const lines = diffLines(before, now).flatMap(({ value, added, removed }) => {
    const kind = added ? 'added' : removed ? 'removed' : 'same'
    return value
      .replace(/\n$/, '')
      .split('\n')
      .map((text): ChangedLine => ({ kind, text }))
  })
  const count = (kind: ChangedLine['kind']): number => lines.filter(line => line.kind === kind).length
  return { path, lines, added: count('added'), removed: count('removed') }
}

/** Lines kept on each side of one that changed. */
const AROUND = 3

/** The lines that changed with some around them; `null` stands where others are left out. */
export function withoutSame(lines: readonly ChangedLine[]): (ChangedLine | null)[] {
  const near = new Set<number>()
  for (const [nth, { kind }] of lines.entries())
    if (kind !== 'same') for (let at = nth - AROUND; at <= nth + AROUND; at++) near.add(at)
  const shown: (ChangedLine | null)[] = []
  for (const [nth, line] of lines.entries())
    if (near.has(nth)) shown.push(line)
    else if (shown.at(-1) !== null) shown.push(null)
  return shown
}
