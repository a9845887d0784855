import { describe, expect, it } from 'vitest'
import type { CheckProblem } from '../src/check/check-problem.ts'
import type { PartProblem } from '../src/condition/kinds/kind.ts'
import type { PhraseProblem } from '../src/condition/phrase.ts'
import type { DifferenceFacts } from '../src/definition/differences.ts'
import type { ExpressionProblem } from '../src/expression/problem.ts'
import type { FaultCode, ReadReport } from '../src/read/read-report.ts'
import type { SourceProblem } from '../src/read/source-problem.ts'
import type { SceneDifference } from '../src/scene/scene-differences.ts'
import { arabic } from '../src/words/arabic/index.ts'
import type { SourceRemark } from '../src/question/source-remark.ts'
import { english } from '../src/words/english.ts'
import type { EngineWords } from '../src/words/engine-words.ts'
import { german } from '../src/words/german/index.ts'

/** One sample of every code: the compiler says when one is left out. */
type Samples<Problem extends { readonly code: string }> = {
  readonly [Code in Problem['code']]: Omit<
    Extract<Problem, { readonly code: Code }>,
    'code' | 'at' | 'from' | 'to'
  >
}
function each<Problem extends { readonly code: string }>(samples: Samples<Problem>): Problem[] {
  const at = { at: { from: 0, to: 1 }, from: 0, to: 1 }
  return Object.entries(samples).map(([code, facts]) => ({ ...at, ...(facts as object), code }) as never)
}

const SOURCE = each<SourceProblem>({
  'recipe-not-valid': { path: '‹path›', reason: '‹reason›' },
  'no-such-source': { kind: '‹kind›', kinds: ['‹rows›', '‹file›'] },
  'service-not-reached': { service: '‹service›', reason: '‹reason›' },
  'service-refused': { service: '‹service›', status: 503, reason: '‹reason›' },
  'service-unreadable': { service: '‹service›', what: '‹what›' },
  'service-has-no-such-rows': { service: '‹service›', rows: '‹rows›', names: ['‹sites›'] },
  'service-rows-moved': { service: '‹service›' },
  'service-too-many-rows': { service: '‹service›', most: 501 },
  'service-too-many-groups': { service: '‹service›', most: 502 },
  'service-too-many-kept': { service: '‹service›', most: 505 },
  'listing-unreadable': { service: '‹service›', pointer: '‹pointer›' },
  'listing-without-key': { service: '‹service›', key: '‹key›' },
  'listing-parts-alike': { service: '‹service›', parameters: ['‹from›'] },
  'listing-not-of-type': { service: '‹service›', field: '‹field›', type: 'number', text: '‹text›' },
  'near-too-many': { service: '‹service›', what: 'condition', column: '‹column›', rows: 503, most: 504 },
  failed: { reason: '‹reason›' },
  empty: {},
  'web-page': {},
  'not-text': { line: 505, byte: 506 },
  'not-utf8': { line: 507 },
  'unclosed-quote': { line: 508 },
  'not-a-mark': { what: 'comment', given: '‹given›' },
  'too-uneven': { needBytes: 2 ** 29, readBytes: 2 ** 21 },
  'too-many-fields': { line: 509, fields: 510, most: 511 },
  'not-json': { line: 512, column: 513, found: '‹found›' },
  'no-rows': { rowsPath: '‹path›', lists: ['‹list›'] },
  'not-rows': { rowsPath: '‹path›', line: 514, text: '‹text›' },
  'row-too-long': { line: 515, mostBytes: 2 ** 25 },
  'too-large': { needBytes: 2 ** 32, allowedBytes: 2 ** 30 },
  encrypted: { format: '‹format›' },
  'no-decoder': { format: '‹format›', reason: '‹reason›' },
  damaged: { format: '‹format›', reason: '‹reason›' },
})
const CHECKS = each<CheckProblem>({
  'not-of-type': { type: 'date', text: '‹text›' },
  'too-many-digits': { text: '‹text›' },
  required: {},
  'not-whole': {},
  'below-least': { least: 501 },
  'above-most': { most: 502 },
  'too-short': { shortest: 503, of: 'characters' },
  'too-long': { longest: 504, of: 'tags' },
  'not-a-choice': {},
  'not-a-choice-beside': { column: '‹column›', beside: ['‹one›', '‹other›'] },
  'not-unique': {},
  'not-matching': { pattern: '‹pattern›', says: null },
  'not-holding': { expression: '‹expression›', says: null },
  'check-failed': { reason: '‹reason›' },
  said: { text: '‹text›' },
})
const EXPRESSIONS = each<ExpressionProblem>({
  'not-written-right': { found: '‹found›' },
  'not-closed': { found: '‹found›' },
  'unknown-name': { name: '‹name›', nearest: '‹nearest›' },
  'unknown-function': { name: '‹name›', nearest: null },
  'wrong-types': { name: '‹name›', given: ['text'], wanted: [['number'], ['duration']] },
  'branches-differ': { given: ['text', 'number'] },
  'nothing-compared': {},
  'not-readable': { what: 'date', text: '‹text›' },
  'must-be-written-out': { name: '‹name›' },
  'not-in-dialect': { what: '‹what›' },
  'no-such-result': { given: 'duration', wanted: 'value' },
  circular: { names: ['‹one›', '‹other›'] },
  'source-cannot-compute': {},
  'parser-not-there': { reason: '‹reason›' },
})
const PARTS = each<PartProblem>({
  'not-for-type': { kind: '‹kind›', type: 'text' },
  'not-readable': { text: '‹text›', type: 'time' },
  'not-a-pattern': { text: '‹text›' },
  'patterns-not-there': {},
  'not-in-service': {},
  'unknown-kind': { name: '‹name›', nearest: '‹nearest›' },
  'values-not-valid': { name: '‹name›', reason: '‹reason›' },
  threw: { name: '‹name›', reason: '‹reason›' },
})
const PHRASES = each<PhraseProblem>({
  'not-closed': {},
  'and-with-or': {},
  'says-nothing': {},
  'not-a-value': { text: '‹text›', type: 'integer' },
  'turned-round': { text: '‹text›' },
})
const DIFFERENCES: readonly DifferenceFacts[] = [
  { code: 'moved', columns: ['‹a›'] },
  { code: 'hidden', columns: ['‹a›', '‹b›'] },
  { code: 'shown', columns: ['a', 'b', 'c', 'd', 'e'] },
  { code: 'pinned', columns: ['‹a›'], part: 'end' },
  { code: 'width', columns: ['‹a›'], width: 501 },
  { code: 'width', columns: ['‹a›', '‹b›'], width: null },
  { code: 'order', order: [{ column: '‹a›', direction: 'descending' }] },
  { code: 'order', order: [] },
  { code: 'condition', column: '‹a›', condition: { match: 'all', parts: [{ kind: 'missing' }] } },
  { code: 'condition', column: '‹a›', condition: null },
  { code: 'where', where: '‹where›' },
  { code: 'where', where: '' },
  { code: 'search', search: '‹search›' },
  { code: 'search', search: '' },
  { code: 'groups', groups: [] },
  { code: 'open' },
  { code: 'summary', column: '‹a›', summary: 'sum' },
  { code: 'summary', column: '‹a›', summary: null },
  { code: 'pinned-rows', count: 0 },
  { code: 'pinned-rows', count: 504 },
  { code: 'compared', columns: ['‹a›', '‹b›'] },
  { code: 'compared', columns: [] },
  { code: 'page-size', pageSize: 505 },
  { code: 'page-size', pageSize: null },
]
const ROW = { row: { a: '‹text›', b: '502' } } as const
const SCENES: readonly SceneDifference[] = [
  { code: 'rows', before: 501, now: 502 },
  { code: 'passing', before: 503, now: 504 },
  ...each<Exclude<SceneDifference, { readonly before: number; readonly code: 'rows' | 'passing' }>>({
    'left-out': { leftOut: { code: 'not-orderable', part: 'order', column: '‹a›' } },
    groups: { level: 0, before: 505, now: 506 },
    columns: { gone: ['‹a›'], come: ['‹b›'] },
    'columns-order': {},
    order: {},
    line: { line: 507, before: ROW, now: { group: '‹group›', level: 0, rows: 508 } },
    cell: { line: 509, column: '‹a›', before: '‹before›', now: '‹now›' },
    summary: { column: '‹a›', before: '510', now: '511' },
  }),
]
const FAULTS: readonly FaultCode[] = [
  'ragged',
  'over-wide',
  'cut-character',
  'nul',
  'stray-quote',
  'not-json',
  'not-a-row',
  'behind',
  'cut-off',
  'commas',
  'doubled-key',
  'unread-column',
]
const REPORT: ReadReport = {
  format: 'csv',
  gzip: true,
  encoding: 'windows-1252',
  byteOrderMark: false,
  notUtf8Line: 501,
  csv: {
    delimiter: ';',
    header: true,
    comment: null,
    delimiterLine: true,
    blankLines: 502,
    commentLines: 503,
    expectedFields: 3,
    renamed: ['‹a›', '‹b›'],
  },
  json: null,
  faults: FAULTS.map(code => ({ code, count: 504, examples: [{ line: 505, text: '‹text›' }] })),
  columns: [
    {
      key: '‹key›',
      type: 'text',
      asked: false,
      style: { type: 'date', dateOrder: 'dmy' },
      likely: { type: 'number', decimal: ',', thousands: '.' },
      ambiguous: { type: 'date', dateOrder: 'mdy' },
      misfits: { count: 506, examples: [{ row: 506, text: '‹misfit›' }] },
      notNumbers: 508,
      finer: 509,
    },
  ],
}

const REMARKS: readonly SourceRemark[] = [
  { code: 'made-up' },
  { code: 'computed' },
  { code: 'grown', rows: 501 },
  { code: 'other-type', field: '‹field›', first: 'integer', type: 'text', rows: 502 },
  { code: 'parts-in-page', names: ['‹a›', '‹b›'] },
  { code: 'no-worker', reason: '‹reason›' },
  { code: 'all-fetched', rows: 503 },
  { code: 'left-out', names: ['‹c›'] },
  { code: 'broken-off', reason: '‹reason›' },
]

/** Everything that a language says of the samples, sentence by sentence. */
function saying(words: EngineWords): readonly string[] {
  const speaker = {
    titleOf: (column: string) => column,
    condition: () => '‹condition›',
    level: () => '‹level›',
    summary: () => '‹summary›',
  }
  return [
    ...SOURCE.map(words.sourceProblem),
    ...CHECKS.map(words.checkProblem),
    ...EXPRESSIONS.map(words.expressionProblem),
    ...PARTS.map(words.partProblem),
    ...PHRASES.map(words.phraseProblem),
    ...DIFFERENCES.map(facts => words.difference(facts, speaker)),
    ...SCENES.map(one => words.scene(one, column => column)),
    ...words.general(REPORT),
    ...words.ofColumns(REPORT),
    ...REMARKS.map(words.remark),
    words.refusal({ code: 'rows-computed' }),
    words.refusal({ code: 'service-cannot', service: '‹service›' }),
    words.leftOut({ code: 'no-such-column', part: 'order', column: '‹a›' }, column => column),
    ...(['link-newer', 'link-too-long', 'link-damaged', 'link-no-arrangement'] as const).map(code =>
      words.linkProblem({ code, at: '‹at›' }),
    ),
    ...Object.entries(words.conditions).flatMap(([name, word]) =>
      name === 'relative' || name === 'own'
        ? []
        : typeof word === 'function'
          ? String((word as (a: string, b: string) => string)('‹a›', '‹b›'))
          : word,
    ),
    ...Object.values(words.summaries),
  ]
}
const facts = (sentence: string): string[] => [...new Set(sentence.match(/‹[^›]*›|\b5\d\d\b/g) ?? [])].sort()

describe.each([
  ['German', german, /\b(the|rows|column|not|missing|is|are)\b/],
  ['Arabic', arabic, /\b(the|rows?|columns?|not|missing|is|are)\b/],
] as const)('the sentences of the engine in %s', (_, words, foreign) => {
  const there = saying(english)
  const here = saying(words)

  it('are as many as in English, each with the same facts', () => {
    expect(here).toHaveLength(there.length)
    const wrong = here.flatMap((sentence, nth) => {
      const lost = facts(there[nth]).filter(fact => !facts(sentence).includes(fact))
      return lost.length > 0 || sentence.includes('undefined') || sentence.trim() === ''
        ? [{ sentence, english: there[nth], lost }]
        : []
    })
    expect(wrong).toEqual([])
  })

  it('are of that language', () => {
    const names = /‹[^›]*›|`[^`]*`|\([a-z]+\)|\.getHours\(\)|has\(…\)|“?and“?|or|view|ask/g
    expect(here.filter(sentence => foreign.test(sentence.replace(names, '')))).toEqual([])
  })
})

describe('units of the calendar', () => {
  it.each([
    ['last', 'day', 30, 'letzte 30 Tage', 'آخر 30 يومًا'],
    ['this', 'month', 0, 'dieser Monat', 'هذا الشهر'],
    ['next', 'week', 0, 'nächste Woche', 'الأسبوع القادم'],
    ['last', 'quarter', 1, 'letztes Quartal', 'الربع الماضي'],
    ['last', 'year', 2, 'letzte 2 Jahre', 'آخر سنتين'],
    ['this', 'day', 0, 'heute', 'اليوم'],
  ] as const)('%s %s %i', (which, unit, count, inGerman, inArabic) => {
    expect(german.conditions.relative(which, unit, count)).toBe(inGerman)
    expect(arabic.conditions.relative(which, unit, count)).toBe(inArabic)
  })
})
