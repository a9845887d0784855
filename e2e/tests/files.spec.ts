import { expect, test } from '@playwright/test'
import { Workshop } from '../support/workshop.ts'

const FIELDS = 'name;seen;cover;note\n'
const GOOD = FIELDS + 'Élan;2024-06-14;12.50;"a; b"\nZoë;2023-01-02;3.25;\n'

test('a file of one’s own is read, its delimiter and header found and shown, its types inferred', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', '\ufeff' + GOOD)
  await workshop.ready()
  await expect(workshop.panel).toContainText(
    'UTF-8 with a byte-order mark, fields parted by semicolons, the first line names',
  )
  await expect(workshop.panel.getByRole('combobox', { name: 'Type of seen' })).toContainText('date')
  await expect(workshop.panel.getByRole('combobox', { name: 'Type of cover' })).toContainText('number')
  expect(await workshop.texts('Name')).toEqual(['Élan', 'Zoë'])
  expect(await workshop.texts('Cover')).toEqual(['12.50', '3.25'])
  expect(await workshop.texts('Note')).toEqual(['a; b', ''])
})

test('ragged rows are read, padded and reported', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('ragged.csv', 'a,b\n1,2\n3\n4,5,6\n')
  await workshop.ready()
  await expect(workshop.panel).toContainText(
    '2 lines do not have as many fields as the first (line 3 has 1, line 4 has 3)',
  )
  expect(await workshop.texts('A')).toEqual(['1', '3', '4'])
  expect(await workshop.texts('Column 3')).toEqual(['', '', '6'])
})

test('numbers that no double tells are shown, ordered and searched as written; what is cut is told', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  const rows = ['1234567890123456.79;b', '1234567890123456.78;Łódź', '5;Straße', '-1234567890123456.78;c']
  const content = `sep=;\nsum;place;at\n${rows.map(row => `${row};2024-06-14T10:00:00.123456`).join('\n')}\n`
  await workshop.openFile('sums.csv', content)
  await workshop.ready()
  await expect(workshop.panel).toContainText('The first line names the delimiter')
  await expect(workshop.panel).toContainText('at: 4 times are told finer than milliseconds, and cut to them.')
  await workshop.grid.getByRole('columnheader', { name: 'Sum' }).click()
  await expect
    .poll(() => workshop.texts('Sum'))
    .toEqual(['-1234567890123456.78', '5.00', '1234567890123456.78', '1234567890123456.79'])
  await page.getByPlaceholder('Search rows').fill('lodz')
  await expect.poll(() => workshop.texts('Sum')).toEqual(['1234567890123456.78'])
  await page.getByPlaceholder('Search rows').fill('strasse')
  await expect.poll(() => workshop.texts('Sum')).toEqual(['5.00'])
})

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d, 0x49, 0x48])
const BROKEN: [string, string | Buffer, RegExp][] = [
  ['an unclosed quote', 'a,b\n1,2\n"open,3\n4,5\n', /quote that opens on line 3/],
  ['NUL bytes', 'a,b\n1,\0\n', /Line 2 holds a NUL byte/],
  ['a picture renamed .csv', PNG, /not a text file|not UTF-8/],
  ['an empty file', '', /There is nothing in it/],
]

for (const [what, content, message] of BROKEN) {
  test(`${what} gets a plain message, and the grid that was open stays`, async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openFile('broken.csv', content)
    await expect(page.getByText(message)).toBeVisible()
    await workshop.openFile('plots.csv', GOOD)
    await workshop.ready()
    await workshop.chooseFile('Choose a file', 'broken.csv', content)
    await expect(page.getByRole('alert')).toContainText(message)
    expect(await workshop.texts('Name')).toEqual(['Élan', 'Zoë'])
  })
}

test('a file that cannot be read as it was taken is read otherwise, in the same place', async ({ page }) => {
  const workshop = new Workshop(page)
  const many = ','.repeat(60_000)
  await workshop.openFile('wide.csv', ['name', 'ann', 'bob'].map(name => `${name};${many}${name}\n`).join(''))
  await expect(page.getByText('Line 1 has 60001 fields; at most 50000 are read.')).toBeVisible()
  await expect(workshop.flow).toContainText('not read')
  await workshop.choose('Fields are parted by', 'semicolon')
  await workshop.ready()
  expect(await workshop.texts('Name')).toEqual(['ann', 'bob'])
  await expect(workshop.panel).toContainText('fields parted by semicolons')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.waitForTimeout(700)
  await page.reload()
  await workshop.ready()
  expect(await workshop.texts('Name')).toEqual(['ann', 'bob'])
})

test('a file dropped on the open grid takes its rows’ place', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', GOOD)
  await workshop.ready()
  const transfer = await page.evaluateHandle(text => {
    const data = new DataTransfer()
    data.items.add(new File([text], 'more.csv', { type: 'text/csv' }))
    return data
  }, FIELDS + 'Ada;2020-01-01;1.5;x\nBee;2020-01-02;2.5;y\nCyd;2020-01-03;3.5;z\n')
  await page.dispatchEvent('.workshop', 'drop', { dataTransfer: transfer })
  await expect(workshop.readout).toContainText('3 rows')
  expect(await workshop.texts('Name')).toEqual(['Ada', 'Bee', 'Cyd'])
})

const MANY = 700_000
const manyRows = (): string =>
  Array.from(
    { length: MANY },
    (_, i) =>
      `${i},remark number ${i % 977},${i / 8},2024-01-0${(i % 9) + 1},${i < MANY - 1 ? i % 97 : 'none'}`,
  ).join('\n')
const HEADS = 'id,remark,eighth,day,code\n'

test('the first rows of a large file are there while the rest is read; a type that changes is told', async ({
  page,
}, info) => {
  const workshop = new Workshop(page)
  await workshop.openLargeFile(info.outputPath('large.csv'), HEADS + manyRows())
  await expect(page.getByText('These are the first rows.')).toBeVisible()
  await expect(page.locator('.body [role=row]').first()).toBeVisible()
  await expect(page.getByText(/of [\d,]+ bytes/)).toBeVisible()
  await expect(workshop.readout).toContainText('700,000 rows', { timeout: 60_000 })
  await expect(page.getByText('These are the first rows.')).toHaveCount(0)
  await expect(workshop.panel).toContainText(
    /“code” read as whole numbers in the first \d+ rows, and is text by all/,
  )
  await expect(workshop.panel.getByRole('combobox', { name: 'Type of code' })).toContainText('text')
  expect((await workshop.texts('Remark')).slice(0, 2)).toEqual(['remark number 0', 'remark number 1'])
})

test('a large file is given up and tried again; one that cannot be read to its end shows none of it', async ({
  page,
}, info) => {
  const workshop = new Workshop(page)
  const rows = manyRows()
  await workshop.openLargeFile(info.outputPath('large.csv'), HEADS + rows)
  // As soon as it is there: a reader who takes their time may find the file read.
  await page.waitForFunction(
    () => {
      const button = [...document.querySelectorAll('button')].find(one => one.innerText.trim() === 'Cancel')
      button?.click()
      return button !== undefined
    },
    null,
    { polling: 'raf' },
  )
  await expect(page.getByText('Loading was cancelled.')).toBeVisible()
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(workshop.readout).toContainText('700,000 rows', { timeout: 60_000 })

  await workshop.openLargeFile(info.outputPath('broken.csv'), `${HEADS}${rows}\n1,"open`)
  await expect(page.getByText('The quote that opens on line 700002 is never closed.')).toBeVisible()
  await expect(page.locator('.body [role=row]:not([hidden])')).toHaveCount(0)
  await expect(workshop.flow).toContainText('not read')
})

test('after a reload the file’s grid is back, rows, widths, order and all', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', GOOD)
  await workshop.ready()
  await workshop.header('Name').click()
  await workshop.header('Name').click()
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('a')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.waitForTimeout(700)
  await page.reload()
  await workshop.ready()
  await expect(page.getByRole('searchbox', { name: 'Search rows' })).toHaveValue('a')
  await expect(workshop.header('Name')).toHaveAttribute('aria-sort', 'descending')
  expect(await workshop.texts('Name')).toEqual(['Élan'])
  await page.goto('/')
  await expect(page.getByRole('link', { name: 'plots' })).toBeVisible()
})
