import { expect, test, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const PICTURE = `data:image/svg+xml,${encodeURIComponent('<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><rect width="8" height="8" fill="green"/></svg>')}`
const ROWS = [
  {
    id: 1,
    name: 'Ragged robin',
    state: 'seen',
    cover: 25,
    sure: true,
    seen: '2024-06-14',
    tags: ['wet', 'rare'],
    page: 'https://example.org/1',
    mail: 'keeper@example.org',
    picture: PICTURE,
  },
  {
    id: 2,
    name: 'Yellow rattle',
    state: 'doubtful',
    cover: 100,
    sure: false,
    seen: '2023-12-31',
    tags: ['dry'],
    page: '/pages/2',
    mail: 'no address',
    picture: 'nowhere.png',
  },
  {
    id: 3,
    name: null,
    state: null,
    cover: null,
    sure: null,
    seen: null,
    tags: null,
    page: null,
    mail: null,
    picture: null,
  },
]
const columns = [
  { key: 'name', title: 'Name', width: 110 },
  {
    key: 'state',
    title: 'State',
    cell: { kind: 'badge', mark: 'dot', tones: { seen: 'moss', doubtful: 'poppy' } },
  },
  { key: 'cover', title: 'Cover', align: 'end', cell: { kind: 'bar', low: 0 }, width: 100 },
  { key: 'sure', title: 'Sure', cell: { kind: 'check' }, width: 60 },
  { key: 'seen', title: 'Seen', format: { date: 'medium' }, width: 110 },
  { key: 'tags', title: 'Tags', cell: { kind: 'tags' }, width: 110 },
  { key: 'page', title: 'Page', cell: { kind: 'link' }, width: 120 },
  { key: 'mail', title: 'Mail', cell: { kind: 'mail' }, width: 120 },
  {
    key: 'picture',
    title: 'Picture',
    cell: { kind: 'picture', width: 20, height: 18, alt: 'name' },
    width: 60,
  },
  { key: 'stand', title: 'Stand', expression: 'cover > 50.0 ? "dense" : "open"', width: 80 },
  {
    key: 'act',
    title: 'Do',
    expression: 'id',
    width: 150,
    cell: {
      kind: 'actions',
      actions: [
        { name: 'sow', title: 'Sow', when: 'sure' },
        { name: 'drop', title: 'Drop', confirm: 'Drop it?' },
      ],
    },
  },
]
const definition = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Cells',
  key: ['id'],
  columns,
  styles: [
    { when: 'cover > 50.0', tone: 'poppy', bold: true, columns: ['name'] },
    { when: '!has(name)', tone: 'stone', shaded: true },
  ],
}

interface Scope {
  handle: {
    on(name: string, listener: (event: unknown) => void): void
    setRows(rows: object[]): Promise<void>
    commit(changes: object): Promise<unknown>
    arrange(change: object): void
    expressionProblems: readonly { key: string }[]
  }
  meadow: { mountMeadow(host: Element, options: object): { ready: Promise<void> } }
  told: unknown[]
  ran: string[]
}

const cell = (page: Page, line: number, title: string) =>
  page
    .locator(`.body [role=row][aria-rowindex="${line + 2}"] [role=gridcell]`)
    .nth(1 + columns.findIndex(column => column.title === title))

test.describe('built-in cells', () => {
  test.beforeEach(async ({ page }) => {
    await page.setViewportSize({ width: 1280, height: 500 })
    await mountBare(page, served.url, { rows: ROWS, definition })
  })

  test('show values as their definition says', async ({ page }) => {
    await expect(cell(page, 0, 'State').locator('.badge')).toHaveAttribute('data-tone', 'moss')
    await expect(cell(page, 0, 'State')).toHaveText('seen')
    await expect(cell(page, 0, 'Sure').getByRole('img')).toHaveAccessibleName('yes')
    await expect(cell(page, 1, 'Sure').getByRole('img')).toHaveAccessibleName('no')
    await expect(cell(page, 0, 'Seen')).toHaveText('14 Jun 2024')
    await expect(cell(page, 0, 'Tags').locator('.tag')).toHaveText(['wet', 'rare'])
    await expect(cell(page, 0, 'Page').getByRole('link')).toHaveAttribute('href', 'https://example.org/1')
    await expect(cell(page, 0, 'Page').getByRole('link')).toHaveAttribute('rel', 'noopener noreferrer')
    await expect(cell(page, 1, 'Page').getByRole('link')).toHaveAttribute('href', '/pages/2')
    await expect(cell(page, 0, 'Mail').getByRole('link')).toHaveAttribute('href', 'mailto:keeper@example.org')
    await expect(cell(page, 1, 'Mail').locator('a')).not.toHaveAttribute('href')
    const picture = cell(page, 0, 'Picture').locator('img')
    await expect(picture).toHaveAttribute('alt', 'Ragged robin')
    await expect(picture).toHaveAttribute('loading', 'lazy')
    expect(await picture.evaluate((image: HTMLImageElement) => [image.width, image.height])).toEqual([20, 18])
    // What cannot be had says so in its place; what is missing is nothing at all.
    await expect(cell(page, 1, 'Picture').locator('img')).toHaveAttribute(
      'title',
      'The picture could not be loaded: nowhere.png',
    )
    await expect(cell(page, 2, 'Picture').locator('img')).toBeHidden()
    await expect(cell(page, 0, 'Stand')).toHaveText('open')
    await expect(cell(page, 1, 'Stand')).toHaveText('dense')
    for (const title of ['State', 'Sure', 'Tags', 'Page', 'Mail', 'Cover'])
      await expect(cell(page, 2, title)).toHaveText('')
  })

  test('a bar is as long as its value among the column’s', async ({ page }) => {
    const share = (line: number) =>
      cell(page, line, 'Cover')
        .locator('.bar-in-cell')
        .evaluate(bar => new DOMMatrix(getComputedStyle(bar).transform).a)
    await expect.poll(() => share(1)).toBe(1)
    expect(await share(0)).toBe(0.25)
    expect(await share(2)).toBe(0)
  })

  test('styles hold where their expression does', async ({ page }) => {
    await expect(cell(page, 1, 'Name')).toHaveCSS('font-weight', '600')
    await expect(cell(page, 0, 'Name')).toHaveCSS('font-weight', '400')
    await expect(cell(page, 1, 'Cover')).toHaveCSS('font-weight', '400')
    const shaded = (line: number) =>
      page
        .locator(`.body [role=row][aria-rowindex="${line + 2}"]`)
        .evaluate(row => getComputedStyle(row).backgroundColor)
    expect(await shaded(2)).not.toBe(await shaded(0))
  })

  test('computed columns order, search and follow changes', async ({ page }) => {
    await page.getByRole('columnheader', { name: 'Stand' }).click()
    await expect(cell(page, 0, 'Name')).toHaveText('Yellow rattle')
    await page.getByRole('columnheader', { name: 'Stand' }).click()
    await page.getByRole('columnheader', { name: 'Stand' }).click()
    await page.evaluate(() => (window as unknown as Scope).handle.commit({ update: [{ id: 1, cover: 80 }] }))
    await expect(cell(page, 0, 'Stand')).toHaveText('dense')
    await page.getByRole('searchbox').fill('dense')
    await expect(page.locator('.foot .count')).toContainText('2 of 3')
  })

  test('actions ask first, tell their row, and rest where they cannot be used', async ({ page }) => {
    await page.evaluate(() => {
      const scope = window as unknown as Scope
      scope.told = []
      scope.handle.on('action', event => scope.told.push(event))
    })
    await expect(cell(page, 1, 'Do').getByRole('button', { name: 'Sow' })).toBeDisabled()
    await cell(page, 0, 'Do').getByRole('button', { name: 'Sow' }).click()
    await cell(page, 1, 'Do').getByRole('button', { name: 'Drop' }).click()
    await page.getByRole('dialog', { name: 'Drop it?' }).getByRole('button', { name: 'Cancel' }).click()
    await cell(page, 1, 'Do').getByRole('button', { name: 'Drop' }).click()
    await page.getByRole('dialog', { name: 'Drop it?' }).getByRole('button', { name: 'Drop' }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    const told = (await page.evaluate(() => (window as unknown as Scope).told)) as {
      name: string
      key: number
      record: { name: string }
    }[]
    expect(told.map(({ name, key, record }) => [name, key, record.name])).toEqual([
      ['sow', 1, 'Ragged robin'],
      ['drop', 2, 'Yellow rattle'],
    ])
    await expect(page.locator('.row.selected')).toHaveCount(0)
  })

  test('what stands in a cell is reached by keyboard', async ({ page }) => {
    await page.evaluate(() => {
      const scope = window as unknown as Scope
      scope.told = []
      scope.handle.on('action', event => scope.told.push((event as { name: string }).name))
    })
    await cell(page, 0, 'Stand').click()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Enter')
    await page.keyboard.press('ArrowRight')
    await expect(cell(page, 0, 'Do').getByRole('button', { name: 'Drop' })).toBeFocused()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Enter')
    await expect.poll(() => page.evaluate(() => (window as unknown as Scope).told)).toEqual(['sow'])
    await page.keyboard.press('Escape')
    await expect(cell(page, 0, 'Do')).toBeFocused()
  })

  test('the whole of a cut-off text shows under the pointer and with the focus', async ({ page }) => {
    await page.evaluate(() => (window as unknown as Scope).handle.arrange({ widths: { name: 60 } }))
    await cell(page, 0, 'Name').hover()
    await expect(page.getByRole('tooltip')).toHaveText('Ragged robin')
    await page.mouse.move(5, 480)
    await cell(page, 1, 'Name').click()
    await expect(page.getByRole('tooltip')).toHaveText('Yellow rattle')
    await page.keyboard.press('Escape')
    await expect(page.getByRole('tooltip')).toHaveCount(0)
  })
})

test('text that looks like markup or a script is only ever text', async ({ page }) => {
  const attacks = [
    '<img src=x onerror="ran.push(1)">',
    '"><script>ran.push(2)</script>',
    'javascript:ran.push(3)',
    'data:text/html,<script>parent.ran.push(4)</script>',
    ' java\tscript:ran.push(5)',
    'vbscript:ran.push(6)',
    '"onmouseover="ran.push(7)',
    '</style><style>*{display:none}',
    'x@example.org?body=<b>',
  ]
  const rows = attacks.map((text, i) => ({
    id: i,
    name: text,
    state: text,
    tags: [text],
    page: text,
    mail: text,
    picture: text,
  }))
  await page.addInitScript(() => ((window as unknown as Scope).ran = []))
  const hostile = {
    ...definition,
    title: attacks[0],
    columns: [
      ...columns
        .filter(({ key }) => ['name', 'state', 'tags', 'page', 'mail', 'picture'].includes(key))
        .map(column => ({ ...column, title: attacks[1], help: attacks[0] })),
    ],
    styles: [],
  }
  await mountBare(page, served.url, { rows, definition: hostile })
  await page.evaluate(() => (window as unknown as Scope).handle.arrange({ search: '<img', groups: ['name'] }))
  await page.evaluate(() => (window as unknown as Scope).handle.arrange({ search: '', groups: [] }))
  for (const link of await page.locator('.body a').all())
    await link.click({ force: true, timeout: 2000 }).catch(() => {})
  await page.waitForTimeout(300)
  expect(await page.evaluate(() => (window as unknown as Scope).ran)).toEqual([])
  const addresses = await page
    .locator('.body a[href]')
    .evaluateAll(links => links.map(link => link.getAttribute('href')!))
  expect(addresses.filter(address => /^\s*(javascript|data|vbscript)/i.test(address))).toEqual([])
  expect(await page.locator('.body img[src^="javascript"], .body img[src^="data:text"]').count()).toBe(0)
  expect(await page.locator('.body script, .body style, .head script').count()).toBe(0)
})

test('a painter of one’s own draws, is given back, and cannot take the grid down', async ({ page }) => {
  await page.setViewportSize({ width: 800, height: 500 })
  await page.goto(served.url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  const told = await page.evaluate(async rows => {
    const { meadow } = window as unknown as Scope
    const log: string[] = []
    const own = {
      create: (cell: HTMLElement) => cell.appendChild(document.createElement('b')),
      update: (b: HTMLElement, { text }: { text: string }) => (b.textContent = `«${text}»`),
      release: () => log.push('released'),
    }
    const broken = {
      create: () => null,
      update: () => {
        throw new Error('no good')
      },
    }
    const mounted = meadow.mountMeadow(document.querySelector('#grid')!, {
      rows,
      parts: { painters: { 'cell:name': own, 'cell:state': broken } },
    }) as Scope['handle'] & { ready: Promise<void>; unmount(): void }
    mounted.on('problem', event => log.push((event as { message: string }).message))
    ;(window as unknown as { mounted: unknown }).mounted = mounted
    ;(window as unknown as { log: string[] }).log = log
    await mounted.ready
    return log
  }, ROWS)
  await expect(page.locator('.body b').first()).toHaveText('«Ragged robin»')
  expect(told).toEqual(['The painter “cell:state” failed and was switched off: no good'])
  await page.evaluate(() => (window as unknown as { mounted: { unmount(): void } }).mounted.unmount())
  expect(await page.evaluate(() => (window as unknown as { log: string[] }).log.includes('released'))).toBe(
    true,
  )
})

test('a wrong expression is told and the rest works', async ({ page }) => {
  const wrong = {
    ...definition,
    columns: [...columns.slice(0, 2), { key: 'x', title: 'X', expression: 'covr + 1' }],
  }
  await mountBare(page, served.url, { rows: ROWS, definition: wrong })
  expect(
    await page.evaluate(() => (window as unknown as Scope).handle.expressionProblems.map(({ key }) => key)),
  ).toEqual(['x'])
  await expect(page.locator('.body [role=row]').first()).toContainText('Ragged robin')
})

test('two grids on one page keep to themselves', async ({ page }) => {
  await page.goto(served.url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  await page.evaluate(
    async ([rows, definition]) => {
      const { meadow } = window as unknown as Scope
      document.body.innerHTML =
        '<div id="a" style="height:240px"></div><div id="b" style="height:240px"></div>'
      const other = { ...(definition as object), look: { textSize: 18 }, styles: [] }
      await meadow.mountMeadow(document.querySelector('#a')!, { rows, definition }).ready
      await meadow.mountMeadow(document.querySelector('#b')!, { rows, definition: other }).ready
    },
    [ROWS, definition] as const,
  )
  await page.locator('#a').getByRole('searchbox').fill('robin')
  await expect(page.locator('#a .foot .count')).toContainText('1 of 3')
  await expect(page.locator('#b .foot .count')).toContainText('3 rows')
  await page.locator('#b').getByRole('columnheader', { name: 'Name' }).click()
  await expect(page.locator('#a').getByRole('columnheader', { name: 'Name' })).not.toHaveAttribute(
    'aria-sort',
  )
  await expect(page.locator('#a .body .cell').nth(1)).toHaveCSS('font-size', '13px')
  await expect(page.locator('#b .body .cell').nth(1)).toHaveCSS('font-size', '18px')
})
