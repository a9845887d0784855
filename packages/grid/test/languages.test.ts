// @vitest-environment jsdom
import { afterEach, describe, expect, it } from 'vitest'
import { mountMeadow, defaultTexts, type MeadowHandle, type Texts } from '../src/index.ts'
import { editingTexts } from '../src/kernel/editing-texts.ts'
import { arabic } from '../src/languages/add-arabic.ts'
import { german } from '../src/languages/add-german.ts'

const LANGUAGES: readonly (readonly [string, Texts])[] = [
  ['German', german],
  ['Arabic', arabic],
]
/** Given facts with a code, these are compared in the engine’s own tests. */
const OF_ENGINE =
  /^(difference|leftOut|linkProblem|expressionProblem|phraseProblem|partProblem|sourceProblem|conditions|editing\.problem)/
/** The same in several languages: how a phrase is written, marks, names of formats, and a word or two. */
const SHARED =
  /^(phraseHelp|valueHint|readout|groupTitle|keepIs|undoOf|putBackOf|keptWhere|editCell|editing\.editCell|summaryOf|bucketNow|exportFormats\.(csv|json|parquet|arrow)|link$|parted|editing\.replaceRows)/
const SAMPLES: Readonly<Record<string, readonly unknown[]>> = {
  summaryOf: ['median'],
  bucketNow: [{ by: 'range', step: 5 }],
  valueHint: ['number'],
  phraseHelp: ['date'],
}

/** Every text of a tree by its path. */
function leaves(texts: object, path = ''): Map<string, unknown> {
  const found = new Map<string, unknown>()
  for (const [key, value] of Object.entries(texts)) {
    const at = path === '' ? key : `${path}.${key}`
    if (typeof value === 'object' && value !== null)
      for (const [inner, text] of leaves(value as object, at)) found.set(inner, text)
    else found.set(at, value)
  }
  return found
}

const english = leaves({ ...defaultTexts, editing: editingTexts })
/** What a text says, given facts that can be found again in it. */
function said(path: string, text: unknown): string {
  if (typeof text === 'string') return text
  const given = SAMPLES[path] ?? ['«0»', '«1»', '«2»']
  return String((text as (...facts: unknown[]) => unknown)(...given))
}
const facts = (sentence: string): string[] => [...new Set(sentence.match(/«\d»/g) ?? [])].sort()

describe.each(LANGUAGES)('%s', (_, texts) => {
  const spoken = leaves(texts)

  it('says everything that English says', () => {
    expect([...spoken.keys()].filter(path => !OF_ENGINE.test(path)).sort()).toEqual(
      [...english.keys()].filter(path => !OF_ENGINE.test(path)).sort(),
    )
  })

  it('says each with the same facts, in words of its own', () => {
    const wrong = [...english.keys()].filter(path => {
      if (OF_ENGINE.test(path)) return false
      const here = said(path, spoken.get(path))
      const there = said(path, english.get(path))
      const same = here === there && !SHARED.test(path)
      return same || here.includes('undefined') || facts(there).some(fact => !here.includes(fact))
    })
    expect(wrong).toEqual([])
  })
})

describe('plurals', () => {
  it.each([
    [0, 'لا صفوف'],
    [1, 'صف واحد'],
    [2, 'صفان'],
    [3, '3 صفوف'],
    [11, '11 صفًا'],
    [100, '100 صف'],
    [103, '103 صفوف'],
  ])('counts %i rows in Arabic', (count, expected) => {
    expect(arabic.groupCount(String(count), count)).toBe(expected)
  })

  it('counts rows in German, with the count as the locale writes it', () => {
    expect(german.groupCount('1', 1)).toBe('1 Zeile')
    expect(german.groupCount('1.200', 1200)).toBe('1.200 Zeilen')
  })

  it('goes by the count and not by how it is written', () => {
    expect(arabic.groupCount('١', 1)).toBe('صف واحد')
    expect(editingTexts.saved('١', 1)).toBe('1 row saved')
  })
})

describe('a grid in a language', () => {
  let grid: MeadowHandle | null = null
  const host = document.createElement('div')
  const mount = async (locale: string | undefined, texts?: Partial<Texts>): Promise<ShadowRoot> => {
    document.body.append(host)
    grid = mountMeadow(host, {
      rows: [
        { site: 'Alder pond', wet: true },
        { site: 'Birch ridge', wet: false },
      ],
      definition: {
        format: 'vast-meadow-grid',
        version: 3,
        ...(locale === undefined ? {} : { locale }),
        columns: [
          { key: 'site', title: 'Site' },
          { key: 'wet', title: 'Wet' },
        ],
      },
      ...(texts ? { texts } : {}),
    })
    await grid.ready
    return host.shadowRoot as ShadowRoot
  }
  const placeholder = (root: ShadowRoot): string | null | undefined =>
    root.querySelector('input[type=search], .search input')?.getAttribute('placeholder') ??
    root.querySelector('[role=searchbox]')?.getAttribute('aria-label')
  const cells = (root: ShadowRoot): (string | null)[] =>
    [...root.querySelectorAll('[role=gridcell]')]
      .filter(cell => cell.closest('[hidden]') === null && cell.textContent)
      .map(cell => cell.textContent)
  afterEach(() => {
    grid?.unmount()
    host.remove()
  })

  it.each([
    ['de-AT', german.search, ['ja', 'nein']],
    ['ar-EG', arabic.search, ['نعم', 'لا']],
    ['en-GB', defaultTexts.search, ['yes', 'no']],
    ['sv', defaultTexts.search, ['yes', 'no']],
    [undefined, defaultTexts.search, ['yes', 'no']],
  ])('speaks as the definition’s locale %s does', async (locale, search, truths) => {
    const root = await mount(locale)
    expect(placeholder(root)).toBe(search)
    expect(cells(root)).toEqual(expect.arrayContaining(truths))
  })

  it('puts the host’s own words before those of the language', async () => {
    const root = await mount('de', { search: 'Orte finden' })
    expect(placeholder(root)).toBe('Orte finden')
    expect(root.textContent).toContain(german.rows)
  })
})
