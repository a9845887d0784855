// @vitest-environment node
import type { Definition, Line, LineReader, RowId } from '@vast-meadow/engine'
import { definitionSchema, arrangementFor, contrast, PALETTE, PAPERS, TONES } from '@vast-meadow/engine'
import { beforeAll, describe, expect, test } from 'vitest'
import { columnsInOrder, geometryOf, SELECT_COLUMN } from '../src/band/geometry.ts'
import { shareOf } from '../src/cell/cell-painters.ts'
import { linkAddress, mailAddress, pictureAddress } from '../src/cell/safe-address.ts'
import { LineWindow } from '../src/kernel/line-window.ts'
import { definitionRules } from '../src/look/definition-sheet.ts'

beforeAll(() => {
  // Addresses are read against the page they stand in.
  ;(globalThis as { document?: unknown }).document = { baseURI: 'https://site.example/grids/1' }
})

const define = (more: object): Definition =>
  definitionSchema.parse({
    format: 'vast-meadow-grid',
    version: 3,
    columns: [{ key: 'a', title: 'A' }],
    ...more,
  })

describe('addresses', () => {
  test.each([
    ['https://example.org/x?y=1', 'https://example.org/x?y=1'],
    ['/pages/2', '/pages/2'],
    ['notes.html#a', 'notes.html#a'],
    ['//other.example/x', '//other.example/x'],
    ['javascript:alert(1)', null],
    [' JavaScript:alert(1)', null],
    ['java\tscript:alert(1)', null],
    ['\u0001javascript:alert(1)', null],
    ['data:text/html,<b>', null],
    ['vbscript:x', null],
    ['file:///etc/passwd', null],
    ['ftp://x.example/a', null],
    ['', null],
  ])('a link from %j leads to %j', (given, leads) => {
    expect(linkAddress(given)).toBe(leads)
  })

  test.each([
    ['a@example.org', 'mailto:a@example.org'],
    ['mailto:a@example.org', 'mailto:a@example.org'],
    ['a@example.org?bcc=b@example.org', null],
    ['a@example.org,b@example.org', null],
    ['no address', null],
    ['javascript:alert(1)@x', null],
  ])('a mail link from %j leads to %j', (given, leads) => {
    expect(mailAddress(given)).toBe(leads)
  })

  test.each([
    ['https://example.org/a.png', true],
    ['/seeds/a.svg', true],
    ['data:image/png;base64,AAAA', true],
    ['data:image/svg+xml,%3Csvg%3E', true],
    ['blob:https://site.example/1', true],
    ['data:text/html,x', false],
    ['javascript:x', false],
    ['', false],
  ])('a picture from %j is loaded: %j', (given, loaded) => {
    expect(pictureAddress(given) !== null).toBe(loaded)
  })
})

test('a bar starts at zero, or at the least value below it, and stays within its cell', () => {
  expect(shareOf(25, {}, { low: 10, high: 100 })).toBe(0.25)
  expect(shareOf(0, {}, { low: -50, high: 50 })).toBe(0.5)
  expect(shareOf(500, { low: 0, high: 100 }, null)).toBe(1)
  expect(shareOf(-5, { low: 0, high: 100 }, null)).toBe(0)
  expect(shareOf(5, {}, null)).toBe(0)
  expect(shareOf(null, { high: 10 }, null)).toBe(0)
})

describe('columns that give way', () => {
  const definition = define({
    columns: [
      { key: 'a', title: 'A', width: 100 },
      { key: 'b', title: 'B', width: 100, giveWay: 1 },
      { key: 'c', title: 'C', width: 100, giveWay: 2 },
      { key: 'd', title: 'D', width: 100, giveWay: 2 },
    ],
  })
  const shownAt = (width: number): readonly string[] =>
    columnsInOrder(geometryOf(definition, arrangementFor(definition), width, false)).slice(1)

  test('leave in the order of their numbers, the last of equal ones first', () => {
    expect([500, 400, 300, 200, 100].map(shownAt)).toEqual([
      ['a', 'b', 'c', 'd'],
      ['a', 'b', 'c'],
      ['a', 'b'],
      ['a'],
      ['a'],
    ])
  })

  test('are there while the width is not known', () => {
    expect(shownAt(0)).toEqual(['a', 'b', 'c', 'd'])
  })

  test('boxes are wider where fingers must hit them', () => {
    const width = (touched: boolean): number =>
      geometryOf(definition, arrangementFor(definition), 900, touched).start.offsets[1]
    expect([width(false), width(true)]).toEqual([38, 44])
    expect(columnsInOrder(geometryOf(definition, arrangementFor(definition), 900, true))[0]).toBe(
      SELECT_COLUMN,
    )
  })
})

const ROW = 0 as RowId

test('a page of lines counts its own lines from zero', () => {
  const wanted: [number, number][] = []
  const all: LineReader = {
    lineCount: 100,
    line: (row): Line => ({ kind: 'row', level: 0, row: row as RowId }),
    groupsAt: () => [],
    text: index => `text ${index}`,
    value: index => index,
    want: (from, to) => wanted.push([from, to]),
    onArrive: () => () => {},
  }
  const page = new LineWindow(all, 40, 60)
  expect([page.lineCount, page.line(0), page.text(3, ROW, 'a'), page.value(3, ROW, 'a')]).toEqual([
    20,
    { kind: 'row', level: 0, row: 40 },
    'text 43',
    43,
  ])
  page.want(2, 9, ['a'])
  expect(wanted).toEqual([[42, 49]])
})

describe('the looks of a definition', () => {
  test('hold nothing that the schema did not check', () => {
    const hostile = { ...define({}), look: { ...define({}).look } }
    expect(() =>
      define({ look: { palette: { moss: { light: 'red;}*{display:none', dark: '#000000' } } } }),
    ).toThrow()
    expect(() => define({ styles: [{ when: 'true', tone: '}*{display:none' }] })).toThrow()
    expect(definitionRules(hostile)).toContain('--_moss: var(--meadow-moss, light-dark(#2f6b4f, #8cc7a4))')
  })

  test('style a row, or the cells of some columns', () => {
    const sheet = definitionRules(
      define({
        styles: [
          { when: 'true', tone: 'poppy', bold: true },
          { when: 'true', columns: ['a'], tone: 'moss', shaded: true },
        ],
      }),
    )
    expect(sheet).toContain('.row.when-0 { color: var(--_poppy); font-weight: 600;')
    expect(sheet).toContain('.row.when-1 .cell.styled-1 {')
  })

  test('ship with tones that can be read on both papers', () => {
    for (const tone of TONES)
      for (const side of ['light', 'dark'] as const)
        expect(contrast(PALETTE[tone][side], PAPERS[side]), `${tone} ${side}`).toBeGreaterThanOrEqual(4.5)
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2)
  })
})
