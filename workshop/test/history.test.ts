import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  HISTORY_DEPTH,
  presentState,
  redoName,
  remember,
  startHistory,
  step,
  undoName,
} from '../app/history/history'
import { changeName } from '../app/history/change-name'
import { arrangementFor, defineFrom } from '@vast-meadow/engine'

describe('undo and redo', () => {
  it('walk over states as a plain list with a place in it would, 200 deep', () => {
    const act = fc.oneof(
      fc.record({ name: fc.constantFrom('a', 'b', 'c') }),
      fc.constantFrom(-1 as const, 1 as const),
    )
    fc.assert(
      fc.property(fc.array(act, { maxLength: 300 }), acts => {
        let history = startHistory(0)
        let plain = [0]
        let at = 0
        acts.forEach((what, i) => {
          if (typeof what === 'number') {
            history = step(history, what)
            at = Math.max(0, Math.min(plain.length - 1, at + what))
          } else {
            // Far apart in time, so that nothing merges.
            history = remember(history, what.name, i + 1, (i + 1) * 10_000)
            plain = [...plain.slice(0, at + 1), i + 1].slice(-HISTORY_DEPTH - 1)
            at = plain.length - 1
          }
          expect(presentState(history)).toBe(plain[at])
          expect([undoName(history) === null, redoName(history) === null]).toEqual([
            at === 0,
            at === plain.length - 1,
          ])
        })
      }),
    )
  })

  it('keep 200 steps', () => {
    let history = startHistory(0)
    for (let i = 1; i <= 500; i++) history = remember(history, `step ${i}`, i, i * 5000)
    for (let i = 0; i < 500; i++) history = step(history, -1)
    expect(presentState(history)).toBe(300)
  })

  it('take quick changes of one name together, others not', () => {
    let history = startHistory('')
    history = remember(history, 'search', 'l', 100)
    history = remember(history, 'search', 'lo', 300)
    history = remember(history, 'order', 'lo+', 400)
    history = remember(history, 'search', 'low+', 500)
    expect(history.entries.map(({ name, state }) => [name, state])).toEqual([
      ['', ''],
      ['search', 'lo'],
      ['order', 'lo+'],
      ['search', 'low+'],
    ])
    const back = step(history, -1)
    expect([undoName(back), redoName(back), presentState(back)]).toEqual(['order', 'search', 'lo+'])
  })

  it('name a change by what differs', () => {
    const plain = arrangementFor(defineFrom('', [{ key: 'a', type: 'text' }], []))
    expect(changeName(plain, { ...plain })).toBeNull()
    expect(changeName(plain, { ...plain, search: 'x' })).toBe('search')
    expect(changeName(plain, { ...plain, search: 'x', hidden: ['a'] })).toBe('arrangement')
  })
})
