import { readFile } from 'node:fs/promises'
import { expect, test, type Page } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows taken away as a file: which, how written, a part at a time, ended amid it; from the bar and from code.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 3000 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  height: (id * 37) % 200,
  planted: `2023-0${1 + (id % 9)}-11`,
  note: id === 4 ? '=SUM(A1), "quoted"\nand broken' : `note ${id}`,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Old trees',
  key: 'id',
  exports: ['csv', 'json', 'ndjson'],
  columns: [
    { key: 'id', title: 'No' },
    { key: 'kind', title: 'Kind' },
    { key: 'height', title: 'Height', format: { decimals: 1 } },
    { key: 'planted', title: 'Planted', format: { date: 'medium', locale: 'en-GB' } },
    { key: 'note', title: 'Note' },
    { key: 'twice', title: 'Twice', expression: 'height * 2' },
    {
      key: 'do',
      title: 'Do',
      expression: '""',
      cell: { kind: 'actions', actions: [{ name: 'x', title: 'X' }] },
    },
  ],
}
interface Handle {
  arrange(change: object): void
  selectRows(keys: unknown[]): Promise<number>
  exportFile(options?: object): Promise<Blob>
  exportStream(options?: object): ReadableStream<Uint8Array>
}
const text = (page: Page, options: object): Promise<string> =>
  page.evaluate(
    async given => (await (window as unknown as { handle: Handle }).handle.exportFile(given)).text(),
    options,
  )

test('readers save what passes or is selected, in the order and the columns that are shown', async ({
  page,
}) => {
  await mountBare(page, served.url, {
    rows: ROWS,
    definition: {
      ...DEFINITION,
      start: { search: 'elm', hidden: ['planted'], order: [{ column: 'height', direction: 'descending' }] },
    },
  })
  await page.getByRole('button', { name: 'Export' }).click()
  const dialog = page.getByRole('dialog', { name: 'Export' })
  await expect(dialog.getByRole('combobox', { name: 'Rows' })).toHaveValue('passing')
  await expect(dialog.getByRole('combobox', { name: 'Rows' })).toContainText('those that pass (1,000)')
  const saved = async (): Promise<[string, string]> => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('button', { name: 'Save the file' }).click(),
    ])
    return [download.suggestedFilename(), await readFile(await download.path(), 'utf8')]
  }
  const [name, csv] = await saved()
  expect(name).toBe('old-trees.csv')
  const lines = csv.split('\r\n')
  expect(lines).toHaveLength(1002)
  expect(lines[0]).toBe('No,Kind,Height,Note,Twice')
  const tallest = ROWS.filter(({ kind }) => kind === 'elm').sort(
    (a, b) => b.height - a.height || a.id - b.id,
  )[0]!
  expect(lines[1]).toBe(`${tallest.id},elm,${tallest.height},${tallest.note},${tallest.height * 2}`)
  await expect(dialog).toBeHidden()
  await expect(page.getByRole('button', { name: 'Export' })).toBeFocused()

  await page.evaluate(() => (window as unknown as { handle: Handle }).handle.selectRows([3, 1, 7]))
  await page.keyboard.press('Enter')
  await expect(dialog.getByRole('combobox', { name: 'Rows' })).toHaveValue('selected')
  await dialog.getByRole('combobox', { name: 'As', exact: true }).selectOption('json')
  await dialog.getByRole('combobox', { name: 'Values' }).selectOption('shown')
  await dialog.getByRole('combobox', { name: 'Columns' }).selectOption('all')
  const [json, body] = await saved()
  expect(json).toBe('old-trees.json')
  // What does not pass comes behind; columns of buttons hold nothing.
  expect(JSON.parse(body)).toEqual(
    [ROWS[7]!, ROWS[1]!, ROWS[3]!].map(({ id, kind, height, note }) => ({
      id: String(id),
      kind,
      height: height.toFixed(1),
      planted: `11 ${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sept'][id % 9]} 2023`,
      note,
      twice: String(height * 2),
    })),
  )
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
})

test('from code in each format; what a spreadsheet would take for a formula is none, unless declined', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, exports: [] } })
  await expect(page.getByRole('button', { name: 'Export' })).toHaveCount(0)
  const all = await text(page, {
    rows: 'all',
    columns: ['id', 'planted', 'note'],
    mark: true,
    separator: ';',
  })
  // The mark is taken off where text is read.
  expect(all.slice(0, 40)).toBe('No;Planted;Note\r\n0;2023-01-11;note 0\r\n1;')
  const bytes = await page.evaluate(async () => {
    const file = await (window as unknown as { handle: Handle }).handle.exportFile({ mark: true })
    return [...new Uint8Array(await file.slice(0, 3).arrayBuffer())]
  })
  expect(bytes).toEqual([0xef, 0xbb, 0xbf])
  expect(all).toContain(`4;2023-05-11;"'=SUM(A1), ""quoted""\nand broken"\r\n`)
  expect(await text(page, { neutral: false, columns: ['note'] })).toContain(
    '"=SUM(A1), ""quoted""\nand broken"\r\n',
  )
  expect(JSON.parse(await text(page, { format: 'json', columns: ['id', 'height', 'note'] }))).toEqual(
    ROWS.map(({ id, height, note }) => ({ id, height, note })),
  )
  const lines = (await text(page, { format: 'ndjson', columns: ['id'] })).trimEnd().split('\n')
  expect(lines.map(line => JSON.parse(line) as unknown)).toEqual(ROWS.map(({ id }) => ({ id })))
  const refused = await page.evaluate(() =>
    (window as unknown as { handle: Handle }).handle.exportFile({ columns: ['none'] }).then(String, String),
  )
  expect(refused).toContain('There is no column "none" to export.')
})

test('a stream is worked out as it is read, tells how far it is, and can be ended', async ({ page }) => {
  await mountBare(page, served.url, {
    source: {
      kind: 'recipe',
      recipe: {
        name: 'x',
        rows: 200_000,
        columns: [
          { key: 'n', kind: 'count' },
          { key: 'm', kind: 'count' },
        ],
      },
    },
  })
  const told = await page.evaluate(async () => {
    const { handle } = window as unknown as { handle: Handle }
    const seen: { done: number; of: number }[] = []
    const reader = handle
      .exportStream({ onProgress: (one: { done: number; of: number }) => void seen.push(one) })
      .getReader()
    await reader.read()
    await new Promise(resolve => setTimeout(resolve, 300))
    const early = seen.length
    await reader.cancel()
    const controller = new AbortController()
    const ended = await handle
      .exportFile({
        signal: controller.signal,
        onProgress: ({ done }: { done: number }) => done > 50_000 && controller.abort(),
      })
      .then(String, (error: Error) => error.name)
    return { early, of: seen[0]!.of, ended }
  })
  // No more is worked out than was asked for, and the next part.
  expect(told.early).toBeLessThanOrEqual(2)
  expect(told.of).toBe(200_000)
  expect(told.ended).toMatch(/Cancel|Abort/)
})

const GROUPED = {
  groups: [{ column: 'kind', bucket: { by: 'value' } }],
  summaries: { height: 'mean', id: 'count' },
  conditions: { id: { match: 'all', parts: [{ kind: 'below', value: 9 }] } },
}
const MEANS = { ash: '44.333333333333336' }

test('groups go along as lines before their rows, or as columns of each row', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, start: GROUPED } })
  const columns = ['id', 'height']
  const lines = (await text(page, { columns, groups: 'lines' })).split('\r\n')
  expect(lines.slice(0, 3)).toEqual([
    'Kind (group),Rows in the group,No,Height',
    `ash,3,3,${MEANS.ash}`,
    ',,0,0',
  ])
  expect(lines).toHaveLength(1 + 3 + 9 + 1)
  const beside = (await text(page, { columns, groups: 'columns', format: 'ndjson' })).trim().split('\n')
  expect(beside).toHaveLength(9)
  expect(JSON.parse(beside[1]!)).toEqual({
    '@kind': 'ash',
    '@kind Mean height': Number(MEANS.ash),
    '@kind Rows id': 3,
    id: 3,
    height: 111,
  })
  for (const wrong of [
    { groups: 'lines', format: 'parquet' },
    { groups: 'lines', rows: 'all' },
  ])
    await expect(text(page, wrong)).rejects.toThrow(/RangeError/)
  await page.getByRole('button', { name: 'Export' }).click()
  const dialog = page.getByRole('dialog', { name: 'Export' })
  await expect(dialog.getByRole('combobox', { name: 'Groups' })).toHaveValue('none')
  await dialog.getByRole('combobox', { name: 'Groups' }).selectOption('lines')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('button', { name: 'Save the file' }).click(),
  ])
  expect((await readFile(await download.path(), 'utf8')).split('\r\n')[1]).toMatch(/^ash,3,/)
})

test('files of columns and workbooks are read back by the grid’s own reader and by others', async ({
  page,
}) => {
  await mountBare(page, served.url, {
    rows: ROWS,
    definition: { ...DEFINITION, exports: ['xlsx', 'parquet', 'arrow'] },
  })
  await page.getByRole('button', { name: 'Export' }).click()
  const dialog = page.getByRole('dialog', { name: 'Export' })
  const saved = async (format: string): Promise<Buffer> => {
    await dialog.getByRole('combobox', { name: 'As', exact: true }).selectOption(format)
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('button', { name: 'Save the file' }).click(),
    ])
    expect(download.suggestedFilename()).toBe(`old-trees.${format}`)
    await page.keyboard.press('Enter')
    return await readFile(await download.path())
  }
  const sheet = Object.fromEntries(
    Object.entries(unzipSync(new Uint8Array(await saved('xlsx')))).map(([name, bytes]) => [
      name,
      strFromU8(bytes),
    ]),
  )['xl/worksheets/sheet1.xml']!
  expect(sheet.match(/<row>/g)).toHaveLength(ROWS.length + 1)
  expect(sheet).toContain('<c><v>4</v></c>')
  expect(sheet).toContain('>=SUM(A1), "quoted"\nand broken</t>')
  for (const format of ['parquet', 'arrow']) {
    const bytes = await saved(format)
    const back = await page.evaluate(
      async ([given, name]) => {
        const { meadow } = window as never as {
          meadow: {
            mountMeadow(
              host: Element,
              options: object,
            ): { ready: Promise<void>; exportFile(options: object): Promise<Blob> }
          }
        }
        const data = new Uint8Array(given as number[])
        const host = document.createElement('div')
        document.body.append(host)
        const grid = meadow.mountMeadow(host, { source: { kind: 'file', name, blob: new Blob([data]) } })
        await grid.ready
        return await (
          await grid.exportFile({ format: 'ndjson', columns: ['id', 'kind', 'planted', 'note'] })
        ).text()
      },
      [[...bytes], `trees.${format}`] as const,
    )
    const rows = back
      .trim()
      .split('\n')
      .map(line => JSON.parse(line) as object)
    expect(rows).toEqual(ROWS.map(({ id, kind, planted, note }) => ({ id, kind, planted, note })))
  }
})
