import { describe, expect, it } from 'vitest'
import {
  emptySession,
  freshStages,
  slowerMarks,
  withChange,
  withFrame,
  withMark,
  type MeterSession,
} from '~/meters/session'

const changes = (session: MeterSession, from: number, times: readonly number[]): MeterSession =>
  times.reduce((now, ms, i) => withChange(now, { at: from + i, name: 'search', ms, stages: [] }), session)
const frames = (session: MeterSession, from: number, times: readonly number[]): MeterSession =>
  times.reduce((now, ms, i) => withFrame(now, { at: from + i, ms, elements: 400 }), session)
const told = (session: MeterSession): unknown[] =>
  slowerMarks(session).map(({ mark, of, before, after }) => [mark.name, of, before, after])

describe('a session of measurements', () => {
  it('keeps the newest figures and forgets the oldest', () => {
    const session = changes(
      emptySession,
      0,
      Array.from({ length: 300 }, (_, i) => i),
    )
    expect(session.changes).toHaveLength(240)
    expect(session.changes[0]!.ms).toBe(60)
    expect(session.changes.at(-1)!.ms).toBe(299)
  })

  it('marks a change of the definition after which things took longer', () => {
    const before = frames(changes(emptySession, 0, [20, 22, 21]), 0, [6, 6, 6])
    const marked = withMark(before, { at: 10, name: 'style rule' })
    expect(told(changes(marked, 11, [60, 64, 62]))).toEqual([['style rule', 'changes', 21, 62]])
    expect(told(frames(marked, 11, [14, 15, 13]))).toEqual([['style rule', 'frames', 6, 14]])
  })

  it('marks nothing on few figures, on small differences, or where it became quicker', () => {
    const marked = withMark(changes(emptySession, 0, [20, 22, 21]), { at: 10, name: 'width' })
    expect(told(changes(marked, 11, [90, 90]))).toEqual([])
    expect(told(changes(marked, 11, [24, 23, 25]))).toEqual([])
    expect(told(changes(marked, 11, [2, 3, 2]))).toEqual([])
    expect(told(changes(withMark(emptySession, { at: 10, name: 'width' }), 11, [90, 90, 90]))).toEqual([])
  })

  it('compares only with what lies between two marks', () => {
    const once = withMark(changes(emptySession, 0, [20, 20, 20]), { at: 10, name: 'first' })
    const twice = withMark(changes(once, 11, [60, 60, 60]), { at: 20, name: 'second' })
    expect(told(changes(twice, 21, [61, 60, 62]))).toEqual([['first', 'changes', 20, 60]])
  })

  it('takes of a report the stages that were computed again', () => {
    const stage = (name: 'search' | 'order', ms: number, fresh: boolean) => ({
      stage: name,
      rowsIn: 1,
      rowsOut: 1,
      ms,
      fresh,
    })
    const report = { stages: [stage('search', 0, false), stage('order', 3, true)] }
    expect(freshStages(report as unknown as Parameters<typeof freshStages>[0])).toEqual([
      { stage: 'order', ms: 3 },
    ])
  })
})
