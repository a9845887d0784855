import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { EVENT_NAMES } from '../src/kernel/events.ts'
import { defaultTexts, type Texts } from '../src/kernel/texts.ts'
import { apiReference, membersOf } from './support/api-reference.ts'
import { elementManifest, elementReference } from './support/element-manifest.ts'
import { CUSTOM_PROPERTIES, PARTS } from './support/styling.ts'

const API = new URL('../../../docs/api.md', import.meta.url)
const MANIFEST = new URL('../custom-elements.json', import.meta.url)
const SOURCE = new URL('../src/', import.meta.url)
const MARK = '<!-- What follows is made from the types; a test holds it to them. -->\n'

describe('what the grid offers (UPDATE_DOCS=1 writes it)', () => {
  const members = membersOf()
  const options = members('kernel/options.ts', 'MeadowOptions')
  const events = members('kernel/events.ts', 'MeadowEvents')

  it('stands in one page as its types have it', () => {
    const [before, after] = readFileSync(API, 'utf8').split(MARK)
    const made = `${apiReference(members)}\n\n${elementReference(events)}`
    if (process.env.UPDATE_DOCS) writeFileSync(API, `${before}${MARK}\n${made}\n`)
    else expect(after.trim()).toBe(made.trim())
    for (const name of EVENT_NAMES) expect(made).toContain(`\`${name}: `)
  })

  it('is told to editors by a manifest', () => {
    const made = `${JSON.stringify(elementManifest(options, events), null, 2)}\n`
    if (process.env.UPDATE_DOCS) writeFileSync(MANIFEST, made)
    else expect(readFileSync(MANIFEST, 'utf8')).toBe(made)
    expect(events.map(({ name }) => name).sort()).toEqual([...EVENT_NAMES].sort())
  })

  it('has just the parts and custom properties that are listed', () => {
    const sources = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
      .filter(path => path.endsWith('.ts'))
      .map(path => readFileSync(new URL(path, SOURCE), 'utf8'))
      .join('\n')
    const found = (pattern: RegExp): string[] =>
      [...new Set([...sources.matchAll(pattern)].map(([, name]) => name))].sort()
    expect(found(/setAttribute\('part', '([^']+)'\)/g)).toEqual(Object.keys(PARTS).sort())
    const tones = ['moss', 'poppy', 'straw', 'cornflower', 'heather', 'stone'].map(tone => `--meadow-${tone}`)
    const properties = [...found(/var\((--meadow-[a-z-]+[a-z])/g), ...tones]
    expect([...new Set(properties)].sort()).toEqual(Object.keys(CUSTOM_PROPERTIES).sort())
  })
})

it('texts can be given a few at a time', () => {
  // A text named as a method of every object would let no object of other texts be one.
  const some: Partial<Texts> = {
    search: 'Suche',
    groupCount: (written, count) => (count === 1 ? '1' : written),
  }
  expect(Object.keys(defaultTexts).filter(name => name in {})).toEqual([])
  expect(Object.keys(some).every(name => name in defaultTexts)).toBe(true)
})
