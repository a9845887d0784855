import { describe, expect, it, vi } from 'vitest'
import type { ArrangementChange, RowId } from '@vast-meadow/engine'
import { Features, type Feature } from '../src/kernel/feature.ts'
import { asPageLine } from '../src/kernel/page-line.ts'
import { features } from '../src/features/index.ts'

const KEY = { key: 'x' } as KeyboardEvent
const AT = { line: asPageLine(0), column: 'a' }

function featuresOf(...list: Partial<Feature>[]): { features: Features; failed: ReturnType<typeof vi.fn> } {
  const failed = vi.fn()
  const made = new Features(failed)
  made.set(list.map((feature, i) => ({ name: `feature ${i}`, ...feature })))
  return { features: made, failed }
}

describe('what features answer', () => {
  it('is that of the first that has something to do with an act; those behind it are not asked', () => {
    const behind = vi.fn(() => true)
    const { features } = featuresOf({}, { key: () => false }, { key: () => true }, { key: behind })
    expect(features.some(feature => feature.key?.(KEY, AT))).toBe(true)
    expect(behind).not.toHaveBeenCalled()
    expect(featuresOf({}, { key: () => false }).features.some(one => one.key?.(KEY, AT))).toBe(false)
  })

  it('is listed in their order where all are asked', () => {
    const entry = (text: string) => [{ text, act: () => {} }]
    const { features } = featuresOf({ cellMenu: () => entry('a') }, {}, { cellMenu: () => entry('b') })
    const cell = { ...AT, row: 1 as RowId, value: null }
    const listed = features.all(feature => feature.cellMenu?.(cell) ?? []).flat()
    expect(listed.map(({ text }) => text)).toEqual(['a', 'b'])
  })

  it('is what the one before made of a change, made more of', () => {
    const broken = vi.fn(() => {
      throw new Error('broken')
    })
    const { features, failed } = featuresOf(
      { amend: change => ({ ...change, page: 1 }) },
      {},
      { amend: broken },
      { amend: change => ({ ...change, page: (change.page ?? 0) + 1 }) },
    )
    const amended = features.pipe<ArrangementChange>({ search: 'x' }, (one, change) => one.amend?.(change))
    expect(amended).toEqual({ search: 'x', page: 2 })
    expect(failed).toHaveBeenCalledTimes(1)
  })

  it('is done without where one throws: it is told of once, and the others go on', () => {
    const error = new Error('broken')
    const drawn = vi.fn()
    const broken = vi.fn(() => {
      throw error
    })
    const { features, failed } = featuresOf({ name: 'broken one', drawn: broken }, { drawn })
    for (let i = 0; i < 3; i++) features.all(feature => feature.drawn?.())
    expect(broken).toHaveBeenCalledTimes(1)
    expect(drawn).toHaveBeenCalledTimes(3)
    expect(failed.mock.calls.map(([feature, why]) => [(feature as Feature).name, why])).toEqual([
      ['broken one', error],
    ])
  })
})

it('each feature stands once in the list', () => {
  expect(new Set(features).size).toBe(features.length)
})
