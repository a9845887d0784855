import { readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { readDefinition } from '../src/definition/definition.ts'
import { definitionReference } from './support/definition-reference.ts'
import { readOk, rowsOf } from './support/read-rows-back.ts'

const pathOf = (name: string): URL => new URL(`../../../docs/${name}`, import.meta.url)
const doc = (name: string): string => readFileSync(pathOf(name), 'utf8')
const MARK = '<!-- The tables below are made from the schema; a test holds them to it. -->\n'

/** Table columns are padded by the formatter; their words are what counts. */
const words = (text: string): string => text.replace(/ {2,}/g, ' ').replace(/-{3,}/g, '---').trim()

/** Code blocks of a language, in their order. */
const blocks = (text: string, language: string): string[] =>
  [...text.matchAll(new RegExp(`\`\`\`${language}\n([\\s\\S]*?)\`\`\``, 'g'))].map(match => match[1])

describe('docs/definition.md', () => {
  it('holds the reference that the schema gives (UPDATE_DOCS=1 writes it)', () => {
    const text = doc('definition.md')
    const [before, after] = text.split(MARK)
    if (process.env.UPDATE_DOCS)
      writeFileSync(pathOf('definition.md'), `${before}${MARK}\n${definitionReference()}\n`)
    else expect(words(after)).toBe(words(definitionReference()))
  })

  it('shows definitions that are valid', () => {
    const found = blocks(doc('definition.md'), 'json')
    expect(found.length).toBeGreaterThan(0)
    for (const json of found) expect(readDefinition(JSON.parse(json))).toMatchObject({ ok: true })
  })
})

describe('docs/reading.md', () => {
  it('shows files that are read as it says', async () => {
    const text = doc('reading.md')
    const files = [...blocks(text, 'csv'), ...blocks(text, 'json')]
    const tables = await Promise.all(files.map(file => readOk(file)))
    expect(tables.map(({ table }) => rowsOf(table))).toEqual([
      [
        { plot: 'P1', cover: 1204.5, 'seen on': 19_888, remark: 'wet; grazed' },
        { plot: 'P2', cover: 3.25, 'seen on': 19_359, remark: null },
      ],
      [{ id: 1, 'place.site': 'Ings', 'place.lat': 53.5, tags: '["wet","grazed"]' }],
    ])
    expect(tables[1].report.json).toMatchObject({ rowsPath: 'result.rows', total: { rows: 900 } })
  })
})
