import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { arrangementFor, defineFrom, readDefinition } from '@vast-meadow/engine'
import seedDefinition from '../../demo/seed-library.grid.json'
import surveyDefinition from '../../demo/survey-sightings.grid.json'
import { elementCode } from '../app/handover/element-code'
import { optionsJson, type HandedGrid } from '../app/handover/handed-grid'
import { leanDefinition } from '../app/handover/lean-definition'
import { mountCode } from '../app/handover/mount-code'
import { reactCode } from '../app/handover/react-code'
import { vueCode } from '../app/handover/vue-code'
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
})
const FROM_RECIPE = handed({ kind: 'recipe', recipe, computed: false, latencyMs: 0 })
const FROM_FILE = handed({ kind: 'file', name: 'trees.csv', bytes: 10, kept: true })

/** The JSON that stands after `const options = ` in generated code. */
function optionsIn(code: string): unknown {
  const start = code.indexOf('const options = ') + 'const options = '.length
  return JSON.parse(code.slice(start, code.indexOf('\n}', start) + 2))
}

describe('the code handed over', () => {
  it('holds the definition with its start, and where rows come from', () => {
    const options = optionsJson(FROM_RECIPE)
    expect(options).toMatchObject({ source: { kind: 'recipe', recipe } })
    expect(optionsIn(elementCode(FROM_RECIPE))).toEqual(JSON.parse(JSON.stringify(options)))
    expect(optionsIn(vueCode(FROM_RECIPE))).toEqual(JSON.parse(JSON.stringify(options)))
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
  })

  it('computes cells where the grid did', () => {
    const computed = handed({ kind: 'recipe', recipe, computed: true, latencyMs: 400 })
    expect(optionsJson(computed)).toMatchObject({ source: { kind: 'computed', latencyMs: 400 } })
  })

  it('fetches the rows of a file, which JSON does not hold', () => {
    expect(optionsJson(FROM_FILE)).not.toHaveProperty('source')
    for (const code of [elementCode(FROM_FILE), mountCode(FROM_FILE), vueCode(FROM_FILE)]) {
      expect(code).toContain("const answer = await fetch('./rows.csv')")
      expect(code).toContain('if (!answer.ok) throw')
      expect(code).toContain('blob: await answer.blob()')
    }
    expect(vueCode(FROM_FILE)).toContain('v-if="source" :source="source"')
    expect(vueCode(FROM_RECIPE)).not.toContain('fetch')
    expect(mountCode(FROM_FILE)).toContain('{ ...options, source }')
    expect(mountCode(FROM_RECIPE)).not.toContain('fetch')
  })

  it('gives readers a place for what they keep by name, and only where they may', () => {
    const kept = { ...FROM_FILE, definition: { ...FROM_FILE.definition, arrangements: true } }
    for (const code of [elementCode(kept), mountCode(kept), vueCode(kept)]) {
      expect(code).toContain("localArrangements('trees')")
      expect(code).toMatch(/import \{ localArrangements.* \} from '@vast-meadow\/grid'/)
    }
    expect(mountCode(kept)).toContain("{ ...options, source, storage: localArrangements('trees') }")
    expect(vueCode(kept)).toContain(':storage="storage"')
    expect(optionsJson(kept)).toMatchObject({ link: 'view' })
    expect(optionsJson(FROM_FILE)).not.toHaveProperty('link')
    for (const code of [elementCode(FROM_FILE), mountCode(FROM_FILE), vueCode(FROM_FILE)])
      expect(code).not.toContain('localArrangements')
  })

  it('names a slot by a column whose key a template can hold', () => {
    expect(vueCode(FROM_RECIPE)).toContain('#cell:height=')
    const odd = { ...FROM_RECIPE, definition: defineFrom('', [{ key: 'a b', type: 'text' }], [[]]) }
    expect(vueCode(odd)).not.toContain('#cell:')
  })

  it('is a component of React that can be compiled, and says where its file is missing', () => {
    const kept = { ...FROM_FILE, definition: { ...FROM_FILE.definition, arrangements: true } }
    const odd = { ...FROM_RECIPE, title: '7 élan: "trees"', definition: defineFrom('', [], []) }
    for (const grid of [FROM_RECIPE, FROM_FILE, kept, odd]) {
      const { diagnostics } = ts.transpileModule(reactCode(grid), {
        fileName: 'grid.tsx',
        reportDiagnostics: true,
        compilerOptions: { jsx: ts.JsxEmit.ReactJSX },
      })
      expect(diagnostics).toEqual([])
    }
    expect(reactCode(FROM_FILE)).toContain('if (!answer.ok) throw')
    expect(reactCode(FROM_FILE)).toContain('return source && (')
    expect(reactCode(FROM_RECIPE)).not.toContain('fetch')
    expect(reactCode(FROM_RECIPE)).toContain('export function Trees()')
    expect(reactCode(odd)).toContain('export function Grid7LanTrees()')
    expect(reactCode(kept)).toContain('storage={storage}')
  })

  it('does not end its own script early, whatever the grid holds', () => {
    expect(elementCode(FROM_RECIPE).match(/<\/script>/g)).toHaveLength(1)
    expect(vueCode(FROM_RECIPE).match(/<\/script>/g)).toHaveLength(1)
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
    expect([0, 0.123, 8.44, 61.6, 7484.2].map(formatMs)).toEqual([
      '0.00 ms',
      '0.12 ms',
      '8.4 ms',
      '62 ms',
      '7484 ms',
    ])
    expect([12, 141_300, 184_400_000].map(formatBytes)).toEqual(['12 B', '141 kB', '184 MB'])
    expect(formatCount(1_000_000)).toBe('1,000,000')
  })
})
