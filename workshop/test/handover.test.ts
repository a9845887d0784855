import fc from 'fast-check'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { arrangementFor, defineFrom, readDefinition, type Scene } from '@vast-meadow/engine'
import engine from '@vast-meadow/engine/package.json'
import seedDefinition from '../../demo/seed-library.grid.json'
import surveyDefinition from '../../demo/survey-sightings.grid.json'
import { optionsJson, type HandedGrid } from '../app/handover/handed-grid'
import { leanDefinition } from '../app/handover/lean-definition'
import { filesOf, HOST_NAMES } from '../app/handover/hosts'
import { codeOf, plainName, typeName } from '../app/handover/code/code-text'
import { changedFiles, withoutSame } from '../app/handover/line-changes'
import { colouredLines } from '../app/handover/code-colours'
import { OWN_VERSION } from '../app/handover/project/versions'
import type { HostName } from '../app/handover/hand-over'
import { soilProbes } from '../app/demo/soil-probes'
import { formatBytes, formatCount, formatMs } from '../app/utils/format'

const definition = defineFrom(
  'Trees',
  [
    { key: 'full name', type: 'text' },
    { key: 'height', type: 'number' },
  ],
  [['Ash'], ['30']],
)
const recipe = { name: 'x', rows: 3, columns: [{ key: 'height', kind: 'count' as const }] }
const handed = (origin: HandedGrid['origin']): HandedGrid => ({
  title: 'Trees',
  definition: { ...definition, start: { search: 'ash </script>' } },
  origin,
  fields: [
    { key: 'full name', type: 'text' },
    { key: 'height', type: 'number' },
    { key: 'planted', type: 'date' },
    { key: 'digits', type: 'integer', wide: true },
    { key: 'marks', type: 'tags' },
  ],
  filled: ['full name'],
  sample: [
    { 'full name': 'Ash', height: 30, planted: '2020-02-29', digits: '9007199254740993', marks: ['tall'] },
  ],
  rowsFrom: 'origin',
  scenes: [],
})
const FROM_RECIPE = handed({ kind: 'recipe', recipe, computed: false, latencyMs: 0 })
const FROM_FILE = handed({ kind: 'file', name: 'trees.csv', bytes: 10, kept: true })

/** The text of a file that is handed over. */
function textIn(host: HostName, grid: HandedGrid, path: string | RegExp): string {
  const file = filesOf(host, grid).find(one =>
    typeof path === 'string' ? one.path === path : path.test(one.path),
  )
  if (!file) throw new Error(`There is no ${path} for ${host}`)
  return file.text
}
const PROJECTS = ['vite', 'vue', 'react', 'svelte'] as const
const keeping = (grid: HandedGrid): HandedGrid => ({
  ...grid,
  definition: { ...grid.definition, arrangements: true },
})

const SCENE: Scene = {
  format: 'vast-meadow-scene',
  version: 1,
  name: 'All of them',
  now: 0,
  arrangement: {},
  shows: { rows: 1, passing: 1, groups: [], columns: ['height'], lines: [], summaries: {} },
}
const remembering = (grid: HandedGrid): HandedGrid => ({ ...grid, scenes: [SCENE] })

describe('the code handed over', () => {
  it('holds the definition with its start, and where rows come from', () => {
    const options = optionsJson(FROM_RECIPE)
    expect(options).toMatchObject({ source: { kind: 'recipe', recipe } })
    expect(JSON.parse(textIn('page', FROM_RECIPE, 'grid.json'))).toEqual(JSON.parse(JSON.stringify(options)))
    for (const host of PROJECTS) {
      expect(textIn(host, FROM_RECIPE, 'src/definition.ts')).toContain("search: 'ash </script>'")
      expect(textIn(host, FROM_RECIPE, 'src/rows.ts')).toContain("kind: 'recipe'")
    }
  })

  it('says no more of a definition than it must, and reads back as the same', () => {
    const demos = [seedDefinition, surveyDefinition, FROM_RECIPE.definition].map(given => {
      const read = readDefinition(given)
      if (!read.ok) throw new Error(JSON.stringify(read.problems))
      return read.definition
    })
    for (const definition of demos) {
      const lean = leanDefinition(definition)
      const again = readDefinition(JSON.parse(JSON.stringify(lean)))
      expect(again.ok && { ...again.definition, start: {} }).toEqual({ ...definition, start: {} })
      expect(again.ok && arrangementFor(again.definition)).toEqual(arrangementFor(definition))
      expect(JSON.stringify(lean).length).toBeLessThan(JSON.stringify(definition).length)
    }
    expect(leanDefinition(demos[2])).not.toHaveProperty('look')
    expect(leanDefinition({ ...demos[2], title: '', key: ['id'] })).toMatchObject({ key: 'id' })
    expect(leanDefinition({ ...demos[2], title: '' })).not.toHaveProperty('title')
    // Within columns too: an edit says no more than differs.
    const edits = JSON.stringify(leanDefinition(demos[0]))
    expect(edits).toContain('"edit":{"least":0}')
    expect(edits).not.toContain('"unique":false')
  })

  it('computes cells where the grid did', () => {
    const computed = handed({ kind: 'recipe', recipe, computed: true, latencyMs: 400 })
    expect(optionsJson(computed)).toMatchObject({ source: { kind: 'computed', latencyMs: 400 } })
    expect(textIn('vite', computed, 'src/rows.ts')).toContain("kind: 'computed'")
  })

  it('fetches the rows of a file, and says where it is missing, or a page stands in its place', () => {
    expect(optionsJson(FROM_FILE)).not.toHaveProperty('source')
    const codes = [
      textIn('page', FROM_FILE, 'page.js'),
      ...PROJECTS.map(host => textIn(host, FROM_FILE, 'src/rows.ts')),
      textIn('angular', FROM_FILE, 'src/app/trees/rows.ts'),
    ]
    for (const code of codes) {
      expect(code).toContain("const answer = await fetch('./rows.csv')")
      expect(code).toContain('if (!answer.ok || isPage) throw')
      expect(code).toContain('blob: await answer.blob()')
    }
    for (const host of PROJECTS) expect(textIn(host, FROM_RECIPE, 'src/rows.ts')).not.toContain('fetch(')
  })

  it('takes rows of the project’s own where that is asked for, with those that there are as an example', () => {
    const own: HandedGrid = { ...FROM_FILE, rowsFrom: 'array' }
    for (const host of PROJECTS) {
      expect(textIn(host, own, 'src/rows.ts')).toContain('export const rows: readonly Row[] = [')
      expect(textIn(host, own, 'src/rows.ts')).toContain("'full name': 'Ash'")
      expect(textIn(host, own, 'src/grid.test.ts')).toContain('rowSchema.parse(row)')
      expect(
        filesOf(host, own)
          .map(({ text }) => text)
          .join(),
      ).not.toContain('rows.csv')
    }
    expect(textIn('page', own, 'page.js')).toContain('options.rows = [')
  })

  it('says what a row is, by type and by schema', () => {
    const code = textIn('vite', FROM_FILE, 'src/row.ts')
    expect(code).toContain("  readonly 'full name': string\n")
    expect(code).toContain('  readonly height: number | null\n')
    expect(code).toContain('  planted: z.iso.date().nullable(),')
    expect(code).toContain('  digits: z.string().nullable(),')
    expect(code).toContain('  readonly marks: readonly string[] | null\n')
  })

  it('gives readers a place for what they keep by name, and only where they may', () => {
    for (const host of [...PROJECTS, 'angular'] as const) {
      expect(textIn(host, keeping(FROM_FILE), /handlers.ts$/)).toContain("localArrangements('trees')")
      expect(textIn(host, FROM_FILE, /handlers.ts$/)).not.toContain('localArrangements')
    }
    expect(textIn('page', keeping(FROM_FILE), 'page.js')).toContain("localArrangements('trees')")
    expect(textIn('react', keeping(FROM_FILE), 'src/Trees.tsx')).toContain('link="view"')
    expect(textIn('vue', keeping(FROM_FILE), 'src/Trees.vue')).toContain('link="view"')
    expect(optionsJson(keeping(FROM_FILE))).toMatchObject({ link: 'view' })
    expect(optionsJson(FROM_FILE)).not.toHaveProperty('link')
  })

  it('has scenes as a test that replays them, where the project can open the same rows', () => {
    for (const host of [...PROJECTS, 'angular'] as const) {
      const test = textIn(host, remembering(FROM_FILE), /scenes.test.ts$/)
      expect(test).toContain("readFile('public/rows.csv')")
      expect(JSON.parse(textIn(host, remembering(FROM_FILE), /scenes.json$/))).toEqual([SCENE])
      expect(textIn(host, remembering(FROM_FILE), 'README.md')).toContain('scenes.test.ts')
      expect(textIn(host, remembering(FROM_RECIPE), /scenes.test.ts$/)).toContain(
        "import { source } from './rows'",
      )
      const without = [
        FROM_FILE,
        remembering({ ...FROM_FILE, rowsFrom: 'array' }),
        remembering(handed({ kind: 'service', address: '/odata', rows: 'Sightings' })),
        remembering(handed({ kind: 'none' })),
      ]
      for (const grid of without)
        expect(filesOf(host, grid).filter(({ path }) => path.includes('scenes'))).toEqual([])
    }
  })

  it('says in which language the grid is, by an import, and the page by its own attributes', () => {
    const speaking = (locale: string): HandedGrid => ({
      ...FROM_FILE,
      definition: { ...FROM_FILE.definition, locale },
    })
    expect(textIn('vite', FROM_FILE, 'src/definition.ts')).not.toContain('@vast-meadow/grid/')
    expect(textIn('vite', speaking('sv-SE'), 'src/definition.ts')).not.toContain('@vast-meadow/grid/')
    expect(textIn('vite', speaking('de-AT'), 'src/definition.ts')).toContain(
      "import '@vast-meadow/grid/german'",
    )
    expect(textIn('react', speaking('ar-EG'), 'src/definition.ts')).toContain(
      "import '@vast-meadow/grid/arabic'",
    )
    expect(textIn('vite', speaking('ar-EG'), 'index.html')).toContain('<html lang="ar-EG" dir="rtl">')
    expect(textIn('page', speaking('he'), 'index.html')).toContain('<html lang="he" dir="rtl">')
    expect(textIn('page', FROM_FILE, 'index.html')).toContain('<html lang="en">')
  })

  it('can be compiled, whatever the grid holds and is called', () => {
    const odd = {
      ...FROM_RECIPE,
      title: '7 élan: "trees" </script> `${1}`',
      definition: defineFrom('', [], []),
    }
    const none = handed({ kind: 'none' })
    const other = { ...FROM_RECIPE, title: 'Übersicht 数据' }
    expect(JSON.parse(textIn('vue', other, 'package.json'))).toMatchObject({ name: 'ubersicht' })
    for (const host of HOST_NAMES)
      for (const grid of [
        FROM_RECIPE,
        FROM_FILE,
        keeping(FROM_FILE),
        remembering(FROM_FILE),
        odd,
        none,
        other,
      ])
        for (const { path, text } of filesOf(host, grid)) {
          if (/\.json$/.test(path)) JSON.parse(text)
          if (!/\.[jt]sx?$/.test(path)) continue
          const { diagnostics } = ts.transpileModule(text, {
            fileName: path,
            reportDiagnostics: true,
            compilerOptions: {
              jsx: ts.JsxEmit.ReactJSX,
              module: ts.ModuleKind.ESNext,
              target: ts.ScriptTarget.ESNext,
              experimentalDecorators: true,
            },
          })
          expect(
            diagnostics?.map(({ messageText }) => messageText),
            `${host} ${path}`,
          ).toEqual([])
        }
    expect(textIn('react', odd, /src\/Grid7ElanTrees/)).toContain('export function Grid7ElanTrees')
  })

  it('does not end its own script early, whatever the grid holds', () => {
    for (const host of ['vue', 'svelte'] as const)
      expect(textIn(host, FROM_RECIPE, /Trees\./).match(/<\/script>/g)).toHaveLength(1)
  })

  it('writes values as they are', () => {
    const value = fc.jsonValue({ maxDepth: 4 })
    fc.assert(
      fc.property(value, one => {
        const code = codeOf(one)
        const read: unknown = new Function(
          `return ${code.startsWith('[') || code.startsWith('{') ? `(${code})` : code}`,
        )()
        expect(JSON.stringify(read)).toBe(JSON.stringify(one))
      }),
    )
    expect(codeOf({ 'a b': "it's", 'c"': '"', ['__proto__']: 1, d: undefined })).toBe(
      `{ 'a b': "it's", 'c"': '"', ['__proto__']: 1 }`,
    )
    for (const line of codeOf({ a: Array.from({ length: 40 }, (_, i) => `text ${i}`) }).split('\n'))
      expect(line.length).toBeLessThanOrEqual(100)
  })

  it('brings the packages as they are now', () => {
    expect(OWN_VERSION).toBe(engine.version)
  })

  it('names types by titles', () => {
    const titles = ['Seed library', "keeper's élan", '7 trees', '数据 —', '', 'Vast Meadow', 'row']
    expect(titles.map(typeName)).toEqual([
      'SeedLibrary',
      'KeepersElan',
      'Grid7Trees',
      'Grid',
      'Grid',
      // What the code around it is called itself.
      'GridVastMeadow',
      'GridRow',
    ])
    expect(titles.map(plainName).slice(0, 5)).toEqual([
      'seed-library',
      'keepers-elan',
      '7-trees',
      'grid',
      'grid',
    ])
  })

  it('is coloured letter by letter as it is', async () => {
    for (const host of ['vue', 'svelte', 'react', 'page'] as const)
      for (const { path, text } of filesOf(host, FROM_FILE)) {
        const lines = await colouredLines(path, text)
        expect(lines.map(runs => runs.map(run => run.text).join('')).join('\n')).toBe(text)
      }
    const [first] = await colouredLines('a.ts', 'const a = 1')
    expect(first[0]).toEqual({ text: 'const', tone: 'tok-keyword' })
  })
})

describe('what changed since the last hand-over', () => {
  const text = fc
    .array(fc.constantFrom('a', 'b', 'c', '', '  d'))
    .map(lines => lines.map(line => `${line}\n`).join(''))

  it('is both texts, whichever lines are taken', () => {
    fc.assert(
      fc.property(text, text, (before, now) => {
        const [file] = changedFiles([{ path: 'x', text: before }], [{ path: 'x', text: now }])
        if (before === now) return void expect(file).toBeUndefined()
        const without = (kind: string): string =>
          file.lines.flatMap(line => (line.kind === kind ? [] : [`${line.text}\n`])).join('')
        expect(without('added')).toBe(before)
        expect(without('removed')).toBe(now)
      }),
    )
  })

  it('tells of files that are new or gone, and leaves out what is far from any change', () => {
    const many = Array.from({ length: 30 }, (_, i) => `line ${i}\n`).join('')
    const changed = changedFiles(
      [
        { path: 'old', text: 'x\n' },
        { path: 'both', text: many },
      ],
      [
        { path: 'both', text: many.replace('line 15\n', 'other\n') },
        { path: 'new', text: 'y\n' },
      ],
    )
    expect(changed.map(({ path, added, removed }) => [path, added, removed])).toEqual([
      ['both', 1, 1],
      ['new', 1, 0],
      ['old', 0, 1],
    ])
    const shown = withoutSame(changed[0].lines)
    expect(shown.filter(Boolean)).toHaveLength(8)
    expect([shown[0], shown.at(-1)]).toEqual([null, null])
  })
})

describe('the soil probes', () => {
  it('have a thousand columns, each once, and a definition that fits them', () => {
    const probes = soilProbes(20)
    const keys = probes.recipe.columns.map(column => column.key)
    expect(new Set(keys).size).toBe(1000)
    expect(probes.definition.columns.map(column => column.key)).toEqual(keys)
    expect(readDefinition(probes.definition).ok).toBe(true)
  })
})

describe('figures', () => {
  it('have three digits and their unit', () => {
    expect([0, 0.123, 8.44, 61.6, 999.7, 7484.2, 118_005].map(formatMs)).toEqual([
      '0.00 ms',
      '0.12 ms',
      '8.4 ms',
      '62 ms',
      '1.0 s',
      '7.5 s',
      '118 s',
    ])
    expect([12, 141_300, 184_400_000].map(formatBytes)).toEqual(['12 B', '141 kB', '184 MB'])
    expect(formatCount(1_000_000)).toBe('1,000,000')
  })
})
