// @vitest-environment jsdom
import { describe, expect, it, vi } from 'vitest'
import { Disposal } from '../src/kernel/dom.ts'
import { PartsWhenUsed } from '../src/kernel/when-used.ts'

/** Parts of an element, and what became of them. */
function setUp() {
  const near = document.createElement('div')
  const disposal = new Disposal()
  const dress = vi.fn(() => Promise.resolve())
  const failed = vi.fn<(error: unknown, again: () => void) => void>()
  const rest = vi.fn(() => Promise.resolve())
  const parts = new PartsWhenUsed(near, { rest, dress, failed }, disposal)
  return { near, disposal, rest, dress, failed, parts }
}
/** Lets all promises that are settled be heard. */
const turn = (): Promise<void> => new Promise(resolve => setTimeout(resolve))

describe('a part that comes when it is used', () => {
  it('is loaded and made once, however often it is used, and dressed before it is seen', async () => {
    const { parts, dress } = setUp()
    const load = vi.fn(() => Promise.resolve('code'))
    const make = vi.fn((code: string) => ({ code }))
    const part = parts.add(load, make)
    const acts: string[] = []
    part.use(() => acts.push(`first, dressed ${dress.mock.calls.length}`))
    part.use(() => acts.push('second'))
    expect(part.made).toBeNull()
    await turn()
    part.use(({ code }) => acts.push(`third with ${code}`))
    expect(acts).toEqual(['first, dressed 1', 'second', 'third with code'])
    expect([load, make].map(one => one.mock.calls.length)).toEqual([1, 1])
    expect(part.made).toEqual({ code: 'code' })
  })

  it.each(['pointerover', 'pointerdown', 'focusin', 'keydown'])(
    'is begun by %s, and made only when it is used',
    async name => {
      const { near, parts } = setUp()
      const [load, other, make] = [
        vi.fn(() => Promise.resolve(1)),
        vi.fn(() => Promise.resolve(2)),
        vi.fn(() => 3),
      ]
      const part = parts.add(load, make)
      parts.add(other, make, () => false)
      near.dispatchEvent(new Event(name))
      near.dispatchEvent(new Event('focusin'))
      await turn()
      expect([load, other, make].map(one => one.mock.calls.length)).toEqual([1, 0, 0])
      const later = vi.fn(() => Promise.resolve(4))
      parts.add(later, make)
      await turn()
      expect(later).toHaveBeenCalledTimes(1)
      const acted = vi.fn()
      part.use(acted)
      // What is there acts at once: an event can still be answered.
      expect(acted).toHaveBeenCalledWith(3)
    },
  )

  it('leaves the line to the rows; whoever uses it does not wait for them', async () => {
    const { near, rest, parts } = setUp()
    let rested: () => void = () => {}
    rest.mockReturnValue(new Promise(resolve => (rested = resolve)))
    const [load, used, acted] = [vi.fn(() => Promise.resolve(1)), vi.fn(() => Promise.resolve(2)), vi.fn()]
    parts.add(load, () => 1)
    const other = parts.add(used, () => 2)
    near.dispatchEvent(new Event('pointerover'))
    other.use(acted)
    await turn()
    expect([load, used, acted].map(one => one.mock.calls.length)).toEqual([0, 1, 1])
    rested()
    await turn()
    expect([load, used].map(one => one.mock.calls.length)).toEqual([1, 1])
  })

  it('that did not come is told of when it is used, and can be tried again', async () => {
    const { near, failed, parts } = setUp()
    let isDown = true
    const part = parts.add(
      () => (isDown ? Promise.reject(new Error('no line')) : Promise.resolve(5)),
      number => number,
    )
    near.dispatchEvent(new Event('pointerover'))
    await turn()
    expect(failed).not.toHaveBeenCalled()
    const acted = vi.fn()
    part.use(acted)
    await turn()
    const [error, again] = failed.mock.calls[0]
    expect(error).toEqual(new Error('no line'))
    expect(acted).not.toHaveBeenCalled()
    isDown = false
    again()
    await turn()
    expect(acted).toHaveBeenCalledWith(5)
  })

  it('does nothing any more in a grid that was taken away', async () => {
    const { near, disposal, failed, parts } = setUp()
    const [load, acted] = [vi.fn(() => Promise.resolve(1)), vi.fn()]
    const coming = parts.add(load, () => 2)
    coming.use(acted)
    const failing = parts.add(
      () => Promise.reject(new Error('too late')),
      () => 3,
    )
    failing.use(acted)
    disposal.dispose()
    near.dispatchEvent(new Event('pointerover'))
    await turn()
    expect(load).toHaveBeenCalledTimes(1)
    expect(acted).not.toHaveBeenCalled()
    expect(failed).not.toHaveBeenCalled()
    expect(coming.made).toBeNull()
  })
})
