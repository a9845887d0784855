import { createHash } from 'node:crypto'
import type { Answered } from '../engine/engine.ts'

/** What a row has, in a few letters: they differ as soon as a value does. Weak, for it is not told byte by byte. */
export function rowTag(values: readonly Answered[]): string {
  const hash = createHash('sha256').update(JSON.stringify(values)).digest('base64url')
  return `W/"${hash.slice(0, 22)}"`
}

/** Whether one of the tags that a header lists is this one; `*`: any. */
export const isTagged = (header: string, tag: string): boolean =>
  header.trim() === '*' ||
  header
    .split(',')
    .map(one => one.trim().replace(/^W\//, ''))
    .includes(tag.replace(/^W\//, ''))
