import { arrangementFor, defineFrom, levelOf, type Arrangement, type Definition } from '@vast-meadow/engine'
import { describe, expect, it } from 'vitest'
import { differsFromStart, shipped, startOf } from '../app/start/start-of'
import { startSentences } from '../app/start/start-sentences'

const FIELDS = [
  { key: 'plot', type: 'text' as const },
  { key: 'cover', type: 'number' as const },
  { key: 'state', type: 'text' as const },
]
const plain: Definition = defineFrom('Plots', FIELDS, [[], [], []])
const everything: Partial<Arrangement> = {
  columns: ['state', 'plot', 'cover'],
  widths: { plot: 222 },
  hidden: ['state'],
  pinnedStart: ['plot'],
  pinnedEnd: ['cover'],
  order: [
    { column: 'cover', direction: 'descending' },
    { column: 'plot', direction: 'ascending' },
  ],
  conditions: {
    cover: { match: 'all', parts: [{ kind: 'at-least', value: 3 }] },
    state: { match: 'all', parts: [{ kind: 'missing' }] },
  },
  where: 'cover > 2.0',
  groups: [levelOf('state')],
  summaries: { cover: 'mean' },
  open: { levels: 0, except: [] },
  pageSize: 25,
}
const arranged = arrangementFor(plain, { ...everything, search: 'only tried', page: 3 })

describe('what readers start with', () => {
  it('is everything that is arranged in Build, but for a search that is only tried and the page looked at', () => {
    expect(startOf(plain, arranged)).toEqual(everything)
    expect(startOf(plain, arrangementFor(plain, { search: 'x', page: 2 }))).toEqual({})
  })

  it('has a search where the builder set one, whatever is tried', () => {
    const searched = { ...plain, start: { search: 'ings' } }
    expect(startOf(searched, arranged).search).toBe('ings')
    expect(shipped(searched, arranged).start).toEqual({ ...everything, search: 'ings' })
  })

  it('is what the shipped definition starts with', () => {
    const begun = arrangementFor(shipped(plain, arranged))
    expect(begun).toEqual({ ...arranged, search: '', page: 0 })
    expect(differsFromStart(shipped(plain, arranged), { ...begun, page: 7 })).toBe(false)
    expect(differsFromStart(shipped(plain, arranged), { ...begun, hidden: [] })).toBe(true)
  })

  it('is told in sentences, each of which can be taken out alone', () => {
    const definition = { ...plain, start: { search: 'ings' } }
    const sentences = startSentences(definition, arranged, FIELDS)
    expect(sentences.map(({ text }) => text)).toEqual([
      'State stands elsewhere.',
      'State is hidden.',
      'Plot is pinned at the start.',
      'Cover is pinned at the end.',
      'Plot is 222 px wide.',
      'Ordered by Cover descending, then Plot ascending.',
      'Only rows for which cover > 2.0 holds.',
      'Searched for “ings”.',
      'Grouped by State.',
      'Other groups are open.',
      '25 lines on a page.',
      expect.stringMatching(/^Only rows with Cover .*3/),
      expect.stringMatching(/^Only rows with State missing/),
      'Summed up: mean of Cover.',
    ])
    for (const { text, without } of sentences.filter(({ text }) => !text.startsWith('Searched'))) {
      const left = startSentences(definition, { ...arranged, ...without }, FIELDS)
      // With the group, what is said of it goes too.
      expect(sentences.length - left.length).toBe(text.startsWith('Grouped') ? 2 : 1)
    }
    expect(startSentences(plain, arrangementFor(plain), FIELDS)).toEqual([])
  })
})
