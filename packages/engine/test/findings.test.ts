import { levelOf } from '../src/group/level.ts'
import { describe, expect, it } from 'vitest'
import { columnEditSchema } from '../src/check/edit-schema.ts'
import { defineFrom } from '../src/definition/define-from.ts'
import { DEFINITION_VERSION, readDefinition, type Definition } from '../src/definition/definition.ts'
import { readArrangement } from '../src/definition/read-arrangement.ts'
import { arrangementFor } from '../src/definition/arrangement.ts'
import type { Arrangement } from '../src/definition/arrangement-schema.ts'
import { bindingFindings, type Finding, type FindingsAsked } from '../src/definition/findings.ts'
import { findingText, remedyText } from '../src/words/finding-text.ts'
import { defineFromSchema } from '../src/definition/from-schema.ts'
import { nearestName } from '../src/table/nearest-name.ts'
import { checkKey, proposeKeys } from '../src/key/propose-keys.ts'
import { loadTable } from '../src/source/rows-input.ts'
import { Engine } from '../src/source/engine.ts'
import type { ReadOptions } from '../src/read/read-report.ts'
import { valueAt } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'

/** What the workshop asks of an opened file and a definition of it. */
async function askedOf(
  csv: string,
  change: (made: Definition) => Partial<Definition> = () => ({}),
  options: ReadOptions = {},
): Promise<FindingsAsked> {
  const loaded = await loadTable({ kind: 'file', blob: new Blob([csv]), options })
  const { fields, samples, reading } = new Engine(loaded).describe()
  const made = defineFrom('T', fields, samples)
  const definition = { ...made, ...change(made) }
  return {
    definition,
    fields,
    samples,
    readings: reading!.columns,
    key: definition.key.length > 0 ? finish(checkKey(loaded.table, definition.key)) : null,
    proposedKeys: finish(proposeKeys(loaded.table)),
  }
}

const CSV = `plot id,cover,when\n${Array.from({ length: 40 }, (_, i) => `p${i},${i}.25,2024-01-${String((i % 28) + 1).padStart(2, '0')}`).join('\n')}\n`
const codes = (findings: readonly Finding[]): string[] => findings.map(({ code }) => code)

/** Every remedy that changes the definition must make its finding go away, and bring no other. */
function expectCured(asked: FindingsAsked, finding: Finding): void {
  for (const remedy of finding.remedies) {
    expect(remedyText(finding, remedy).length).toBeGreaterThan(3)
    if (remedy.kind !== 'define') continue
    const after = bindingFindings({ ...asked, definition: remedy.definition, key: null })
    expect(codes(after).filter(code => code === finding.code && code !== 'no-key')).toEqual([])
    expect(readDefinition(JSON.parse(JSON.stringify(remedy.definition)))).toMatchObject({ ok: true })
  }
}

describe('findings', () => {
  it('has none but the missing key for a definition of nothing but data, and none with a key', async () => {
    const asked = await askedOf(CSV)
    expect(bindingFindings(asked)).toMatchObject([{ code: 'no-key', proposed: ['plot id'] }])
    const [{ remedies }] = bindingFindings(asked)
    const cured = remedies[0].kind === 'define' ? remedies[0].definition : asked.definition
    expect(bindingFindings({ ...asked, definition: cured, key: asked.proposedKeys[0] })).toEqual([])
  })

  it('tells of texts that list the same words, and of no others', async () => {
    const tags = ['wet', 'dry', 'steep', 'mown']
    const list = (i: number, sign: string): string => tags.filter((_, nth) => (i >> nth) & 1).join(sign)
    const rows = Array.from({ length: 40 }, (_, i) => [
      list(i, ';'),
      list(i, ' | '),
      `${i % 7}, Mill Lane ${i}; Upper Village`,
      `one; of ${i} kinds`,
      ['cleaned; keep dry', 'sorted', 'new; in its box'][i % 3],
    ])
    const csv = ['semi\tbar\taddress\tnovel\tremark', ...rows.map(row => row.join('\t'))].join('\n')
    const found = bindingFindings(await askedOf(csv, () => ({}))).filter(
      ({ code }) => code === 'texts-like-tags',
    )
    expect(found.map(one => 'key' in one && [one.key, one.remedies])).toEqual([
      ['semi', [{ kind: 'read', key: 'semi', as: { type: 'tags', separator: ';' } }]],
      ['bar', [{ kind: 'read', key: 'bar', as: { type: 'tags', separator: '|' } }]],
    ])
    expect(findingText(found[0])).toContain('parted by “;”')
  })

  it.each<[string, (made: Definition) => Partial<Definition>, object, string]>([
    [
      'field-not-in-data',
      ({ columns }) => ({ columns: columns.map(c => (c.key === 'cover' ? { ...c, key: 'Covr' } : c)) }),
      { key: 'Covr', nearest: 'cover', place: 'columns.1.key', severity: 'problem' },
      'no such field',
    ],
    ['key-not-in-data', () => ({ key: ['id'] }), { proposed: ['plot id'], severity: 'problem' }, '“id”'],
    ['key-doubled', () => ({ key: ['when'] }), { rows: 12, example: [0, 28] }, 'rows 1 and 29'],
    [
      'detail-column-absent',
      () => ({ detail: { columns: ['cover', 'gone'], several: true } }),
      { key: 'gone', place: 'detail.columns.1', severity: 'problem' },
      'no such column',
    ],
    [
      'deletes-without-key',
      () => ({ key: [], actions: [{ name: 'drop', title: 'Drop them', deletes: true }] }),
      { title: 'Drop them', proposed: ['plot id'], place: 'key', severity: 'problem' },
      'they need a key',
    ],
    [
      'changes-without-key',
      ({ columns }) => ({
        key: [],
        columns: columns.map(c => (c.key === 'cover' ? { ...c, edit: columnEditSchema.parse({}) } : c)),
      }),
      { key: 'cover', proposed: ['plot id'], place: 'key', severity: 'problem' },
      'they need a key',
    ],
    [
      'choices-absent',
      ({ columns }) => ({
        columns: columns.map(c =>
          c.key === 'cover'
            ? { ...c, edit: columnEditSchema.parse({ choices: { of: 'when', like: ['where'] } }) }
            : c,
        ),
      }),
      { key: 'cover', of: 'where', place: 'columns.1.edit.choices', severity: 'problem' },
      'no such field',
    ],
    [
      'title-missing',
      ({ columns }) => ({ columns: columns.map((c, i) => (i ? c : { ...c, title: ' ' })) }),
      { proposed: 'Plot id', place: 'columns.0.title' },
      'no title',
    ],
    [
      'title-doubled',
      ({ columns }) => ({
        columns: columns.map(c => ({ ...c, title: c.key === 'when' ? 'Cover' : c.title })),
      }),
      { key: 'when', other: 'cover' },
      'Two columns',
    ],
    [
      'width-cuts-off',
      ({ columns }) => ({ columns: columns.map(c => (c.key === 'when' ? { ...c, width: 60 } : c)) }),
      { key: 'when', share: 1 },
      '100 %',
    ],
    [
      'format-hides',
      ({ columns }) => ({
        columns: columns.map(c => (c.key === 'cover' ? { ...c, format: { decimals: 0 } } : c)),
      }),
      { key: 'cover', decimals: 0, needed: 2 },
      '0 decimals',
    ],
  ])('tells %s, with what sets it right', async (code, change, facts, words) => {
    const csv = code === 'format-hides' ? `${CSV}p40,1.75,2024-02-01\n` : CSV
    const asked = await askedOf(csv, change)
    const found = bindingFindings(asked).find(one => one.code === code)
    expect(found).toMatchObject(facts)
    expect(findingText(found!)).toContain(words)
    expect(found!.remedies.length).toBeGreaterThan(0)
    expectCured(asked, found!)
  })

  it('looks at widths as cells are drawn', async () => {
    const fitting = async (key: string, change: object): Promise<boolean> => {
      const asked = await askedOf(CSV, ({ columns }) => ({
        columns: columns.map(column => (column.key === key ? { ...column, ...change } : column)),
      }))
      return !bindingFindings(asked).some(one => one.code === 'width-cuts-off' && one.key === key)
    }
    // A date of ten characters fits where a month written out does not; of a picture its address says nothing.
    expect(await fitting('when', { width: 100 })).toBe(true)
    expect(await fitting('when', { width: 100, format: { date: 'long' } })).toBe(false)
    expect(
      await fitting('when', { width: 70, cell: { kind: 'picture', width: 40, height: 20, round: false } }),
    ).toBe(true)
    expect(await fitting('when', { width: 110, cell: { kind: 'badge', mark: 'filled', tones: {} } })).toBe(
      true,
    )
    expect(await fitting('when', { width: 90, cell: { kind: 'badge', mark: 'filled', tones: {} } })).toBe(
      false,
    )
    const actions = ['Discard', 'Sow'].map(title => ({ name: title, title, deletes: false }))
    expect(await fitting('when', { width: 100, cell: { kind: 'actions', actions } })).toBe(false)
  })

  it('tells of groups that are no easier to read than rows', async () => {
    const asked = await askedOf(CSV)
    const arrangement = { ...arrangementFor(asked.definition), groups: [levelOf('when')] }
    const report = { heldBack: {}, conditionMs: {}, groups: [10_001], passing: 20_000 }
    const [found] = bindingFindings({ ...asked, arranged: { arrangement, report } }).filter(
      ({ code }) => code === 'many-groups',
    )
    expect(findingText(found)).toContain('10,001 groups')
    expect(found.remedies).toEqual([{ kind: 'arrange', change: { groups: [] } }])
    expect(remedyText(found, found.remedies[0])).toBe('Do not group')
    const few = { arrangement, report: { ...report, groups: [10_000] } }
    expect(bindingFindings({ ...asked, arranged: few }).some(({ code }) => code === 'many-groups')).toBe(
      false,
    )
  })

  it('tells rows without a key', async () => {
    const asked = await askedOf('id,x\n1,a\n,b\n3,c\n', () => ({ key: ['id'] }))
    expect(bindingFindings(asked)[0]).toMatchObject({ code: 'key-missing', rows: 1, severity: 'problem' })
  })

  it('tells mixed types, and the remedy reads them so', async () => {
    const csv = `n,x\n${Array.from({ length: 30 }, (_, i) => `"${i},5";${i}`.replace(';', ',')).join('\n')}\nunknown,3\n`
    const asked = await askedOf(csv)
    const found = bindingFindings(asked).find(({ code }) => code === 'mixed-types')!
    expect(found).toMatchObject({
      key: 'n',
      misfits: 1,
      examples: ['unknown'],
      style: { type: 'number', decimal: ',' },
    })
    const [remedy] = found.remedies
    if (remedy.kind !== 'read') throw new Error('not a reading')
    const again = await askedOf(csv, () => ({}), { columns: { [remedy.key]: remedy.as } })
    expect(again.fields[0]).toEqual({ key: 'n', type: 'number', decimals: 1 })
    expect(bindingFindings(again).map(({ code }) => code)).toContain('asked-type-misfits')
  })

  it('tells dates that can be read two ways, and settles them for good', async () => {
    const csv = 'd,x\n03/04/2024,1\n05/06/2024,2\n'
    const found = bindingFindings(await askedOf(csv)).find(({ code }) => code === 'ambiguous')!
    expect(found).toMatchObject({ style: { dateOrder: 'dmy' }, other: { dateOrder: 'mdy' } })
    expect(findingText(found)).toContain('month first')
    for (const remedy of found.remedies) {
      if (remedy.kind !== 'read') throw new Error('not a reading')
      const again = await askedOf(csv, () => ({}), { columns: { d: remedy.as } })
      expect(codes(bindingFindings(again))).not.toContain('ambiguous')
      expect(again.fields[0].type).toBe('date')
      const day = remedy.as.dateOrder === 'mdy' ? '2024-03-04' : '2024-04-03'
      expect(again.samples[0][0]).toBe(day)
    }
  })
})

describe('the nearest name', () => {
  it('is the same but for case and signs, or has a letter or two changed', () => {
    const names = ['seen_on', 'Cover %', 'species', 'site']
    expect(
      ['seenOn', 'cover', 'speceis', 'sites', 'observer', ''].map(name => nearestName(name, names)),
    ).toEqual(['seen_on', 'Cover %', 'species', 'site', null, null])
  })
})

describe('a schema of columns', () => {
  it('may be a Table Schema', () => {
    const read = defineFromSchema({
      primaryKey: 'id',
      fields: [
        { name: 'id', type: 'integer' },
        { name: 'price', title: 'Price per bag', type: 'number', decimalChar: ',', groupChar: '.' },
        { name: 'sown', type: 'date' },
        { name: 'any' },
      ],
    })
    if (!read.ok) throw new Error(read.problem)
    const { definition, columns } = read.made
    expect(definition.key).toEqual(['id'])
    expect(definition.columns.map(({ title, align }) => [title, align])).toEqual([
      ['Id', 'end'],
      ['Price per bag', 'end'],
      ['Sown', 'start'],
      ['Any', 'start'],
    ])
    expect(columns).toEqual({
      id: { type: 'integer' },
      price: { type: 'number', decimal: ',', thousands: '.' },
      sown: { type: 'date' },
    })
    expect(readDefinition(definition)).toMatchObject({ ok: true })
  })

  it('may be a JSON Schema of a row or of a list of rows, with objects inside', () => {
    const row = {
      type: 'object',
      properties: {
        at: { type: ['string', 'null'], format: 'date-time', title: 'Seen at' },
        place: { type: 'object', properties: { lat: { type: 'number' } } },
        tags: { type: 'array', items: { type: 'string' } },
      },
    }
    for (const schema of [row, { type: 'array', items: row }]) {
      const read = defineFromSchema(schema)
      expect(read.ok && read.made.columns).toEqual({
        at: { type: 'datetime', zoned: true },
        'place.lat': { type: 'number' },
        tags: { type: 'tags' },
      })
      expect(read.ok && read.made.definition.columns.map(({ title }) => title)).toEqual([
        'Seen at',
        'Place lat',
        'Tags',
      ])
    }
  })

  it('is refused in a sentence where it is neither', () => {
    for (const json of [null, 7, {}, { fields: [] }, { properties: {} }]) {
      expect(defineFromSchema(json)).toMatchObject({ ok: false })
    }
  })
})

describe('definitions of version 1', () => {
  it('are opened: their key becomes a list', () => {
    const old = { format: 'vast-meadow-grid', version: 1, columns: [{ key: 'a', title: 'A' }] }
    expect(readDefinition({ ...old, key: 'a' })).toMatchObject({
      ok: true,
      definition: { version: DEFINITION_VERSION, key: ['a'] },
    })
    expect(readDefinition({ ...old, key: null })).toMatchObject({ ok: true, definition: { key: [] } })
    expect(readDefinition(old)).toMatchObject({ ok: true, definition: { key: [] } })
  })

  it('and of version 2 keep what they grouped by, and which groups were open', () => {
    const old = { format: 'vast-meadow-grid', version: 2, columns: [{ key: 'a', title: 'A' }] }
    const start = { group: 'a', open: { all: false, except: ['x', null] }, search: 's' }
    const read = readDefinition({ ...old, start })
    const wanted = { groups: [levelOf('a')], open: { levels: 0, except: [['x'], [null]] }, search: 's' }
    expect(read.ok && read.definition.start).toEqual(wanted)
    expect(readArrangement(start, ['a'])).toEqual({ ok: true, arrangement: wanted })
    expect(readArrangement({ group: null, open: { all: true, except: [] } }, [])).toEqual({
      ok: true,
      arrangement: { groups: [], open: { levels: null, except: [] } },
    })
  })
})

describe('rows grown from a sample', () => {
  it('follow its distributions, keep columns together, and count on where values are unique', async () => {
    const sample = `id,name,kind,group\n${Array.from({ length: 200 }, (_, i) => `${i + 1},n${i},${i % 4 ? 'a' : 'b'},${i % 4 ? 1 : 2}`).join('\n')}`
    const { table, remarks } = await loadTable({
      kind: 'grown',
      of: { kind: 'file', blob: new Blob([sample]) },
      times: 50,
    })
    expect(table.rows).toBe(10_000)
    const column = (place: number): unknown[] =>
      Array.from({ length: 10_000 }, (_, row) => valueAt(table.columns[place], row))
    const [ids, names, kinds, groups] = [0, 1, 2, 3].map(column)
    expect(new Set(ids).size).toBe(10_000)
    expect(Math.max(...(ids as number[]))).toBe(10_000)
    expect(new Set(names).size).toBe(10_000)
    expect(names.slice(0, 3)).toEqual(['n0', 'n1', 'n2'])
    const share = kinds.filter(kind => kind === 'b').length / 10_000
    expect(share).toBeGreaterThan(0.22)
    expect(share).toBeLessThan(0.28)
    expect(kinds.every((kind, i) => (kind === 'b') === (groups[i] === 2))).toBe(true)
    expect(remarks[0]).toMatchObject({ code: 'grown' })
  })
})

describe('findings about the arrangement', () => {
  const arrangedAs = async (
    arrangement: Partial<Arrangement>,
    change: (made: Definition) => Partial<Definition> = () => ({}),
    ms = 0,
  ): Promise<FindingsAsked> => {
    const asked = await askedOf(CSV, made => ({ key: ['plot id'], ...change(made) }))
    const report = { heldBack: { cover: 12 }, conditionMs: { 'plot id': ms }, groups: [], passing: 12 }
    return { ...asked, arranged: { arrangement: arrangementFor(asked.definition, arrangement), report } }
  }
  const about = (asked: FindingsAsked): string[] => bindingFindings(asked).map(findingText)

  it('tell of a condition on a hidden column, and how many rows it holds back', async () => {
    const conditions = { cover: { match: 'all' as const, parts: [{ kind: 'above' as const, value: 9 }] } }
    const asked = await arrangedAs({ conditions, hidden: ['cover'] })
    expect(about(asked)).toEqual(['“cover” is hidden, and its condition alone holds 12 rows back.'])
    const [finding] = bindingFindings(asked)
    expect(finding.remedies.map(remedy => [remedyText(finding, remedy), remedy])).toEqual([
      ['Show the column', { kind: 'arrange', change: { hidden: [] } }],
      ['Lift the condition', { kind: 'arrange', change: { conditions: {} } }],
    ])
    expect(about(await arrangedAs({ conditions }))).toEqual([])
  })

  it('tell of an order on a column that refuses it', async () => {
    const refusing = ({ columns }: Definition) => ({
      columns: columns.map(c => ({ ...c, orderable: false })),
    })
    const order = [{ column: 'cover', direction: 'ascending' as const }]
    const asked = await arrangedAs({ order }, refusing)
    expect(codes(bindingFindings(asked))).toEqual(['order-refused'])
    expectCured(asked, bindingFindings(asked)[0])
    expect(about(await arrangedAs({ order }))).toEqual([])
  })

  it('tell of numbers and dates that are ordered as texts', async () => {
    const shown = ({ columns }: Definition) => ({
      columns: columns.map(c => ({ ...c, order: { ...c.order, by: 'shown' as const } })),
    })
    const asked = await arrangedAs({}, shown)
    const found = bindingFindings(asked)
    expect(found.map(({ code, place }) => [code, place])).toEqual([
      ['ordered-as-text', 'columns.1.order.by'],
      ['ordered-as-text', 'columns.2.order.by'],
    ])
    for (const one of found) expect(remedyText(one, one.remedies[0])).toBe('Order by its values')
  })

  it('tell of a pattern whose asking is felt', async () => {
    const conditions = {
      'plot id': { match: 'all' as const, parts: [{ kind: 'pattern' as const, pattern: 'p' }] },
    }
    expect(codes(bindingFindings(await arrangedAs({ conditions }, undefined, 400)))).toEqual(['pattern-slow'])
    expect(codes(bindingFindings(await arrangedAs({ conditions }, undefined, 40)))).toEqual([])
  })
})
