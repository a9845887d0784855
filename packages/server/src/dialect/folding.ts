import { sql } from 'kysely'
import type { Sql } from './dialect.ts'

/** Letters that Unicode does not take apart, one for one. */
export const STROKES = ['øłđðħŧŋıĸſς', 'olddhtniksσ'] as const

/** Letters that become two or three. */
const PAIRS = [
  ['ß', 'ss'],
  ['æ', 'ae'],
  ['œ', 'oe'],
  ['þ', 'th'],
  ['ﬀ', 'ff'],
  ['ﬁ', 'fi'],
  ['ﬂ', 'fl'],
  ['ﬃ', 'ffi'],
  ['ﬄ', 'ffl'],
] as const

export const withPairs = (text: Sql): Sql =>
  PAIRS.reduce<Sql>(
    (inner, [letter, letters]) => sql`replace(${inner}, ${sql.lit(letter)}, ${sql.lit(letters)})`,
    text,
  )
