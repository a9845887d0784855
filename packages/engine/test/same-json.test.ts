import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Condition } from '../src/condition/condition.ts'
import { differences } from '../src/definition/differences.ts'
import { arrangementFor } from '../src/definition/arrangement.ts'
import { sameJson } from '../src/work/same-json.ts'
import { runs } from './support/runs.ts'

/** The same value with the members of its objects turned round. */
const turned = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(turned)
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value).map(([key, one]) => [key, turned(one)] as const)
  return Object.fromEntries(entries.reverse())
}
/** As text, members in one order. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, one: unknown) =>
    typeof one === 'object' && one !== null && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  )

describe('what is the same as JSON', () => {
  it('is so in whatever order members stand, and only then', () => {
    const json = fc.jsonValue({ maxDepth: 4 }).map(value => JSON.parse(JSON.stringify(value)) as unknown)
    fc.assert(
      fc.property(json, json, (a, b) => {
        expect(sameJson(a, turned(a))).toBe(true)
        expect(sameJson(a, b)).toBe(canonical(a) === canonical(b))
        expect(sameJson({ a, b }, { b, a, c: undefined })).toBe(true)
        expect(sameJson([a, b], [a])).toBe(false)
      }),
      runs(300),
    )
    expect(sameJson({ toString: 1 }, {})).toBe(false)
    expect(sameJson([], {})).toBe(false)
  })

  it('is no difference between arrangements: a condition that was checked on its way is the same', () => {
    const columns = [{ key: 'state' }] as never
    const written: Condition = { match: 'all', parts: [{ kind: 'one-of', values: ['seen'] }] }
    const [from, to] = [written, turned(written) as Condition].map(state =>
      arrangementFor({ columns, start: {} }, { conditions: { state } }),
    )
    expect(differences(from, to)).toEqual([])
  })
})
