import { readFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { tableFromJSON, tableToIPC } from 'apache-arrow'
import { parquetWriteBuffer } from 'hyparquet-writer'
import { Workshop } from '../support/workshop.ts'

const PLOTS = [
  {
    plot: 'P1',
    place: { site: 'Ings', lat: 53.5 },
    cover: 12.5,
    seen: '2024-06-14',
    tags: ['wet', 'grazed'],
  },
  { plot: 'P2', place: { site: 'Mead', lat: 52.25 }, cover: null, seen: '2023-01-02', tags: [] },
]
const flat = PLOTS.map(({ plot, cover }) => ({ plot, cover }))
const parquet = (): Buffer =>
  Buffer.from(
    parquetWriteBuffer({
      columnData: [
        { name: 'plot', data: flat.map(row => row.plot) },
        { name: 'cover', data: flat.map(row => row.cover), type: 'DOUBLE' },
      ],
    }),
  )

const FILES: Record<string, () => Buffer> = {
  'plots.json': () => Buffer.from(JSON.stringify(PLOTS)),
  'plots.ndjson': () => Buffer.from(PLOTS.map(row => JSON.stringify(row)).join('\n')),
  'plots.csv.gz': () => gzipSync('plot,cover\nP1,12.5\nP2,\n'),
  'plots.tsv': () => Buffer.from('\ufeffplot\tcover\nP1\t12.5\nP2\t\n', 'utf16le'),
  'plots.arrow': () => Buffer.from(tableToIPC(tableFromJSON(flat), 'file')),
  'plots.arrows': () => Buffer.from(tableToIPC(tableFromJSON(flat), 'stream')),
  'plots.parquet': parquet,
}

for (const [name, content] of Object.entries(FILES)) {
  test(`${name} is read`, async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openFile(name, content())
    await workshop.ready()
    expect(await workshop.texts('Plot')).toEqual(['P1', 'P2'])
    expect(await workshop.texts('Cover')).toEqual(['12.5', ''])
  })
}

test('rows in an envelope are found, what lies beside them is shown, and another list can be chosen', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  const document = { took: 3, result: { total: 900, items: PLOTS }, log: [{ at: 1 }] }
  await workshop.openFile('answer.json', JSON.stringify(document))
  await workshop.ready()
  expect(await workshop.texts('Place site')).toEqual(['Ings', 'Mead'])
  expect(await workshop.texts('Tags')).toEqual(['wet grazed', ''])
  await expect(workshop.panel).toContainText('900 rows in all, at result.total')
  await expect(workshop.panel.getByLabel('Beside the rows')).toContainText('took')
  await workshop.choose('Rows lie at', 'log (1)')
  await expect(workshop.readout).toContainText('1 rows')
})

const MESSY = `plot;cover;seen\n${Array.from({ length: 14 }, (_, i) => `P${i};${i === 5 ? 'n/a' : `${i},5`};0${(i % 9) + 1}/0${(i % 8) + 1}/2024`).join('\n')}\n`

test('what was read otherwise than expected is said, with a remedy that can be undone and redone by name', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openFile('messy.csv', MESSY)
  await workshop.ready()
  await expect(workshop.panel).toContainText('1 disagrees: “n/a” in row 6')
  const findings = page.getByRole('button', { name: /finding/ })
  await expect(findings).toHaveText('3 findings')
  await findings.click()
  await workshop.panel.getByRole('button', { name: 'Read as number, decimal comma' }).click()
  await expect.poll(() => workshop.texts('Cover')).toContain('1.5')
  expect((await workshop.texts('Cover'))[5]).toBe('')
  await workshop.panel.getByRole('button', { name: 'Read as date, month first' }).click()
  await expect.poll(async () => (await workshop.texts('Seen'))[8]).toBe('2024-09-01')
  await workshop.panel.getByRole('button', { name: 'Use “plot”' }).click()
  await expect(findings).toHaveText('1 finding')
  const undo = page.getByRole('button', { name: 'Undo' })
  await expect(undo).toHaveAttribute('title', 'Undo: key')
  await undo.click()
  await expect(undo).toHaveAttribute('title', 'Undo: type of Seen')
  await undo.click()
  await expect.poll(async () => (await workshop.texts('Seen'))[8]).toBe('2024-01-09')
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect.poll(async () => (await workshop.texts('Seen'))[8]).toBe('2024-09-01')
  await workshop.header('Plot').click()
  await expect(undo).toHaveAttribute('title', 'Undo: order')
  await page.keyboard.press('Escape')
  await undo.click()
  await expect(workshop.header('Plot')).not.toHaveAttribute('aria-sort', 'ascending')
})

test('encoding, delimiter, header, comment and types are changed and read again', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('latin.csv', Buffer.from('# made up\nname;code\nÉlan;007\nZoë;008\n', 'latin1'))
  await workshop.ready()
  await expect(workshop.panel).toContainText('Line 3 is not UTF-8')
  await workshop.panel.getByLabel('Lines of comment begin with').fill('#')
  await workshop.panel.getByLabel('Lines of comment begin with').press('Enter')
  await expect(workshop.panel).toContainText('1 line of comment was passed over')
  expect(await workshop.texts('Name')).toEqual(['Élan', 'Zoë'])
  await workshop.choose('Type of code', 'tags, parted by commas')
  await expect(workshop.panel.getByRole('combobox', { name: 'Type of code' })).toContainText('tags')
  await workshop.choose('Encoding', 'UTF-8')
  await expect(page.getByRole('alert')).toContainText('is not UTF-8')
  expect(await workshop.texts('Name')).toEqual(['Élan', 'Zoë'])
  await workshop.choose('Fields are parted by', 'comma')
  await expect(page.locator('.head')).toContainText('name;code', { ignoreCase: true })
})

test('other rows keep the definition; renamed fields are proposed, new ones can be added', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openFile('a.csv', 'plot,cover_pct,note\nP1,1.5,x\nP2,2.5,y\n')
  await workshop.ready()
  await workshop.header('Cover pct').click()
  await workshop.openPanel('Source')
  await workshop.chooseFile(
    'Choose a file',
    'b.csv',
    'plot,coverPct,note,observer\nP3,3.5,z,ann\nP1,1.25,x,bob\n',
  )
  await expect(workshop.readout).toContainText('2 rows')
  await expect(workshop.panel).toContainText('Cover pct has no field any more')
  await expect(page.getByRole('button', { name: /finding/ })).toHaveText(/[2-9] findings/)
  await workshop.panel.getByRole('button', { name: 'It is “coverPct” now' }).click()
  await expect.poll(() => workshop.texts('Cover pct')).toEqual(['1.25', '3.50'])
  await expect(workshop.header('Cover pct')).toHaveAttribute('aria-sort', 'ascending')
  await workshop.panel.getByRole('button', { name: 'Add a column' }).click()
  await expect.poll(() => workshop.texts('Observer')).toEqual(['bob', 'ann'])
  await expect(workshop.panel).not.toContainText('The fields changed')
})

test('a selection outlasts other rows where keys live on', async ({ page }) => {
  const workshop = new Workshop(page)
  const rows = (from: number): string =>
    `id,name\n${Array.from({ length: 300 }, (_, i) => `${from + i},row ${from + i}`).join('\n')}\n`
  await workshop.openFile('a.csv', rows(0))
  await workshop.ready()
  await page.getByRole('button', { name: /finding/ }).click()
  await workshop.panel.getByRole('button', { name: 'Use “id”' }).click()
  await page.locator('.body [role=row]').nth(2).getByRole('checkbox').click()
  await page.locator('.body [role=row]').nth(5).getByRole('checkbox').click()
  await expect(workshop.readout).toContainText('2 selected')
  await workshop.openPanel('Source')
  await workshop.chooseFile('Choose a file', 'b.csv', rows(4))
  await expect(workshop.readout).toContainText('1 selected')
  await expect(page.locator('.body [role=row]').nth(1)).toHaveAttribute('aria-selected', 'true')
})

test('rows grow tenfold, follow the sample and are marked as made up', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await workshop.panel.getByRole('button', { name: '× 10', exact: true }).click()
  await expect(workshop.readout).toContainText('12,000 rows')
  await expect(workshop.panel.locator('.lead .made-up')).toHaveText('made up')
  await expect(workshop.panel).toContainText('Rows from 1201 on are made up')
})

test('columns come from a schema', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('a.csv', 'id,price\n1,"1.234,50"\n2,"7,00"\n')
  await workshop.ready()
  const schema = {
    primaryKey: 'id',
    fields: [
      { name: 'price', title: 'Price per bag', type: 'number', decimalChar: ',', groupChar: '.' },
      { name: 'id', type: 'string' },
    ],
  }
  await workshop.chooseFile('Choose a schema', 'schema.json', JSON.stringify(schema))
  await expect.poll(() => workshop.texts('Price per bag')).toEqual(['1234.50', '7.00'])
  await expect(workshop.panel).toContainText('Names every row, and no two alike.')
  await workshop.chooseFile('Choose a schema', 'none.json', '{"a":1}')
  await expect(page.getByRole('alert')).toContainText('neither a Table Schema')
})

test('rows are pasted, from a spreadsheet’s cells or as JSON', async ({ page }) => {
  const workshop = new Workshop(page)
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Start from rows' })).toBeVisible()
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text/plain', 'plot\tcover\nP1\t1,5\nP2\t2,5\n')
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
  })
  await workshop.ready()
  expect(await workshop.texts('Cover')).toEqual(['1.5', '2.5'])
  await page.goto('/')
  await page.getByRole('button', { name: 'Paste rows' }).click()
  await page.getByRole('textbox', { name: 'Rows' }).fill('[{"a":1},{"a":2}]')
  await page.getByRole('button', { name: 'Read them' }).click()
  await workshop.ready()
  expect(await workshop.texts('A')).toEqual(['1', '2'])
})

async function openAddress(page: Page, address: string): Promise<void> {
  await page.goto('/')
  await page.getByRole('button', { name: 'From an address' }).click()
  await page.getByLabel('Address', { exact: true }).fill(address)
  await page.getByRole('button', { name: 'Fetch them' }).click()
}

test(
  'rows come from a service, of this server or of a host that is listed; others are refused',
  ALL,
  async ({ page }) => {
    const workshop = new Workshop(page)
    await openAddress(page, '/api/stand-in/rows?latency=50')
    await workshop.ready()
    await expect(workshop.readout).toContainText('2,000 rows')
    await expect(workshop.panel).toContainText('rows at result.rows')
    await openAddress(page, `${new URL(page.url()).origin}/api/stand-in/rows?size=20&page=2`)
    await workshop.ready()
    await expect(workshop.panel).toContainText('2000 rows in all, at counts.total')
    expect((await workshop.texts('Id'))[0]).toBe('41')
    await workshop.panel.getByRole('button', { name: 'Fetch again' }).click()
    await expect(workshop.readout).toContainText('20 rows')
    await openAddress(page, 'https://rows.example/all.json')
    await expect(page.getByRole('alert')).toContainText('does not fetch from rows.example')
    await openAddress(page, 'file:///etc/passwd')
    await expect(page.getByRole('alert')).toContainText('http and https only')
    await openAddress(page, '/api/stand-in/rows?fail=100')
    await expect(page.getByRole('alert')).toContainText('out of breath')
  },
)

test('rows are made up from columns that are described', async ({ page }) => {
  const workshop = new Workshop(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'Make rows up' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Rows', { exact: true }).fill('500')
  await dialog.getByLabel('Column 2', { exact: true }).fill('id')
  await dialog.getByRole('button', { name: 'Make them' }).click()
  await expect(dialog.getByRole('alert')).toContainText('Two columns are called “id”')
  await dialog.getByLabel('Column 2', { exact: true }).fill('habitat')
  await dialog.getByRole('button', { name: 'Make them' }).click()
  await workshop.ready()
  await expect(workshop.readout).toContainText('500 rows')
  expect(['meadow', 'hedge', 'ditch', 'copse']).toContain((await workshop.texts('Habitat'))[0])
  await expect(workshop.panel.locator('.lead .made-up')).toHaveText('made up')
})

test('grids are renamed, duplicated, exported with their rows and imported again', async ({ page }, info) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,cover\nP1,1.5\nP2,2.5\n')
  await workshop.ready()
  await workshop.header('Cover').click()
  await page.getByRole('button', { name: 'plots', exact: true }).click()
  await page.getByLabel('Name of the grid').fill('My plots')
  await page.getByLabel('Name of the grid').press('Enter')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Shelf', exact: true }).click()
  const item = page.getByRole('listitem').filter({ hasText: 'My plots' })
  await expect(item.locator('.picture')).toContainText('P1')
  await expect(item).toContainText('2 × 2')
  await item.getByRole('button', { name: 'Duplicate My plots' }).click()
  const copy = page.getByRole('listitem').filter({ hasText: 'My plots, copy' })
  await copy.getByRole('button', { name: 'Rename My plots, copy' }).click()
  await page.getByLabel('New name of My plots, copy').fill('Second')
  await page.getByLabel('New name of My plots, copy').press('Enter')
  await expect(page.getByRole('link', { name: 'Second' })).toBeVisible()
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Export Second' }).click()
  const path = info.outputPath('second.zip')
  await (await download).saveAs(path)
  await page.getByRole('button', { name: 'Delete Second' }).click()
  await workshop.openFile('second.zip', readFileSync(path))
  await workshop.ready()
  await expect(workshop.header('Cover')).toHaveAttribute('aria-sort', 'ascending')
  expect(await workshop.texts('Plot')).toEqual(['P1', 'P2'])
})

test('a definition alone is imported, an older one too, and asks for its rows', async ({ page }) => {
  const workshop = new Workshop(page)
  const old = {
    format: 'vast-meadow-grid',
    version: 1,
    title: 'Old',
    key: 'plot',
    columns: [{ key: 'plot', title: 'Plot number' }],
  }
  await workshop.openFile('old.grid.json', JSON.stringify(old))
  await expect(page.getByText('This grid has no rows yet')).toBeVisible()
  await workshop.chooseFile('Choose the file', 'plots.csv', 'plot,cover\nP1,1.5\n')
  await workshop.ready()
  expect(await workshop.texts('Plot number')).toEqual(['P1'])
  await expect(workshop.panel).toContainText('Names every row')
  await workshop.openFile(
    'broken.grid.json',
    '{"format":"vast-meadow-grid","version":2,"columns":[{"key":""}]}',
  )
  await expect(page.getByRole('alert')).toContainText('columns.0.key')
})

test('Build is the start: Use begins from it, keeps the reader’s own apart, and gives it back or takes it over', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,cover,note\nP1,1.5,a\nP2,2.5,b\n')
  await workshop.ready()
  await workshop.openPanel('Order')
  await workshop.header('Cover').click()
  // A search in Build is only tried.
  await page.getByRole('searchbox', { name: 'Search rows' }).last().fill('P1')
  await expect(workshop.readout).toContainText('1 of 2 rows')
  const use = page.getByRole('button', { name: 'Use', exact: true })
  const build = page.getByRole('button', { name: 'Build', exact: true })
  const back = page.getByRole('button', { name: 'Back to the start' })
  const take = page.getByRole('button', { name: 'Take this as the start' })
  await use.click()
  await expect(workshop.flow).toHaveCount(0)
  await expect(workshop.header('Cover')).toHaveAttribute('aria-sort', 'ascending')
  await expect(workshop.readout).toContainText('2 rows')
  await expect(back).toBeDisabled()
  await workshop.header('Plot').click()
  await workshop.header('Plot').click()
  await expect(workshop.header('Plot')).toHaveAttribute('aria-sort', 'descending')
  await build.click()
  await expect(workshop.header('Cover')).toHaveAttribute('aria-sort', 'ascending')
  await expect(workshop.readout).toContainText('1 of 2 rows')
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', 'Undo: search')
  // What the reader arranged is still there, also after a reload.
  await use.click()
  await expect(workshop.header('Plot')).toHaveAttribute('aria-sort', 'descending')
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()
  await page.reload()
  await workshop.ready()
  await use.click()
  await expect(workshop.header('Plot')).toHaveAttribute('aria-sort', 'descending')
  await back.click()
  await expect(workshop.header('Plot')).not.toHaveAttribute('aria-sort', 'descending')
  await expect(workshop.header('Cover')).toHaveAttribute('aria-sort', 'ascending')
  await workshop.header('Note').click()
  await take.click()
  await expect(take).toBeDisabled()
  await build.click()
  await expect(workshop.header('Note')).toHaveAttribute('aria-sort', 'ascending')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(workshop.header('Cover')).toHaveAttribute('aria-sort', 'ascending')
})

test('the panel is made wider by its edge, remembered, and leaves the grid its room where there is little', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,cover\nP1,1.5\nP2,2.5\n')
  await workshop.ready()
  const edge = page.getByRole('separator', { name: 'Width of the panel' })
  const widthOf = async (locator: Locator): Promise<number> => (await locator.boundingBox())!.width
  expect(await widthOf(workshop.panel)).toBe(300)
  const before = await widthOf(workshop.grid)
  const at = (await edge.boundingBox())!
  await page.mouse.move(at.x + 4, at.y + 200)
  await page.mouse.down()
  await page.mouse.move(at.x + 84, at.y + 210, { steps: 4 })
  await page.mouse.up()
  expect(await widthOf(workshop.panel)).toBe(380)
  expect(await widthOf(workshop.grid)).toBe(before - 80)
  await edge.press('ArrowLeft')
  await expect.poll(() => widthOf(workshop.panel)).toBe(360)
  await page.reload()
  await workshop.ready()
  expect(await widthOf(workshop.panel)).toBe(360)
  await page.setViewportSize({ width: 1000, height: 700 })
  await expect.poll(() => widthOf(workshop.grid)).toBeGreaterThan(700)
  await expect(workshop.panel).toBeVisible()
})

test('what ships is listed in sentences, and each can be taken out', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,cover\nP1,1.5\nP2,2.5\n')
  await workshop.ready()
  await workshop.openPanel('Order')
  await workshop.header('Cover').click()
  await workshop.openPanel('Search')
  await workshop.panel.getByRole('searchbox', { name: 'Search rows' }).fill('P2')
  await expect(workshop.readout).toContainText('1 of 2 rows')
  await workshop.openPanel('Ship')
  const starts = workshop.panel.getByRole('list', { name: 'What readers start with' })
  const options = () => workshop.handedFile('grid.json')
  await expect(starts.getByRole('listitem')).toHaveText([/Ordered by Cover ascending\./])
  expect(await options()).not.toContain('"search": "P2"')
  await workshop.openPanel('Search')
  await workshop.panel.getByRole('button', { name: 'Start with this search' }).click()
  await workshop.openPanel('Ship')
  await expect(starts.getByRole('listitem')).toHaveCount(2)
  expect(await options()).toContain('"search": "P2"')
  await starts.getByRole('button', { name: 'Take out: Ordered by Cover ascending.' }).click()
  await expect(workshop.header('Cover')).not.toHaveAttribute('aria-sort', 'ascending')
  await starts.getByRole('button', { name: 'Take out: Searched for “P2”.' }).click()
  await expect(workshop.panel).toContainText('all rows as they come')
  expect(await options()).not.toContain('"search": "P2"')
})

test('a browser that stores nothing is told of, and the grid can be exported', async ({ page }) => {
  await page.addInitScript(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('no room', 'QuotaExceededError')
    }
  })
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', 'plot,cover\nP1,1.5\n')
  await workshop.ready()
  await expect(page.getByRole('alert')).toContainText('no room left')
  const download = page.waitForEvent('download')
  await page.getByRole('alert').getByRole('button', { name: 'Export the grid' }).click()
  expect((await download).suggestedFilename()).toBe('plots.zip')
})

test('grids of an earlier release open', async ({ page }) => {
  await page.goto('/icon.svg')
  await page.evaluate(async () => {
    const open = indexedDB.open('vast-meadow', 1)
    await new Promise<void>(resolve => {
      open.onupgradeneeded = () => {
        open.result.createObjectStore('grids', { keyPath: 'id' })
        open.result.createObjectStore('files')
      }
      open.onsuccess = () => resolve()
    })
    const work = open.result.transaction(['grids', 'files'], 'readwrite')
    work.objectStore('grids').put({
      id: 'old',
      title: 'Kept',
      origin: { kind: 'csv', name: 'kept.csv', bytes: 10, kept: true },
      definition: {
        format: 'vast-meadow-grid',
        version: 1,
        key: 'a',
        columns: [{ key: 'a', title: 'First' }],
      },
      arrangement: null,
      rows: 1,
      columns: 1,
      changed: 1,
    })
    work.objectStore('files').put(new Blob(['a\nx\n']), 'old')
    await new Promise(resolve => (work.oncomplete = resolve))
    open.result.close()
  })
  await page.goto('/')
  await page.getByRole('link', { name: 'Kept' }).click()
  const workshop = new Workshop(page)
  await workshop.ready()
  expect(await workshop.texts('First')).toEqual(['x'])
})
