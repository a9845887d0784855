import { expect, test, type Page } from '@playwright/test'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Rows on paper, as they come out: what stands on each page.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const ROWS = Array.from({ length: 500 }, (_, id) => ({
  id,
  kind: `kind ${id % 40}`,
  height: (id * 37) % 200,
  note: `note ${id} ${'long '.repeat(id % 9)}`,
}))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Old trees',
  key: 'id',
  print: true,
  columns: [
    { key: 'id', title: 'No', width: 60, align: 'end' },
    { key: 'kind', title: 'Kind', width: 120 },
    { key: 'height', title: 'Height', width: 90, align: 'end', format: { decimals: 1 } },
    { key: 'note', title: 'Note', width: 300 },
  ],
}

interface PrintedText {
  readonly text: string
  readonly x: number
  readonly y: number
}
interface PrintedPage {
  readonly width: number
  readonly height: number
  readonly texts: readonly PrintedText[]
}

/** Prints into a window of its own and reads the pages that come out. */
async function printed(page: Page, options: object = {}): Promise<{ pages: PrintedPage[]; rows: number }> {
  const [popup, rows] = await Promise.all([
    page.waitForEvent('popup'),
    page.evaluate(async given => {
      const to = window.open('about:blank')!
      to.print = () => {}
      const { handle } = window as unknown as { handle: { print(options: object): Promise<number> } }
      return await handle.print({ ...given, to })
    }, options),
  ])
  const pdf = await getDocument({ data: new Uint8Array(await popup.pdf({ preferCSSPageSize: true })) })
    .promise
  const pages: PrintedPage[] = []
  for (let nth = 1; nth <= pdf.numPages; nth++) {
    const one = await pdf.getPage(nth)
    const { width, height } = one.getViewport({ scale: 1 })
    const { items } = await one.getTextContent()
    pages.push({
      width,
      height,
      texts: items.flatMap(item =>
        'str' in item && item.str.trim()
          ? [{ text: item.str.trim(), x: item.transform[4] as number, y: item.transform[5] as number }]
          : [],
      ),
    })
  }
  await popup.close()
  return { pages, rows }
}
const textsOf = ({ texts }: PrintedPage): string[] => texts.map(({ text }) => text)

test('headings stand on every page, each row on one, and the pages are counted', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const { pages, rows } = await printed(page)
  expect(rows).toBe(500)
  expect(pages.length).toBeGreaterThan(5)
  for (const one of pages)
    expect(textsOf(one)).toEqual(expect.arrayContaining(['No', 'Kind', 'Height', 'Note']))
  expect(textsOf(pages[0]!)).toEqual(expect.arrayContaining(['Old trees', '500 rows']))
  const ids = pages.flatMap(one => {
    const left = one.texts.find(({ text }) => text === 'Kind')!.x
    return one.texts.filter(({ text, x }) => x < left && /^\d+$/.test(text)).map(({ text }) => Number(text))
  })
  expect(ids).toEqual(ROWS.map(({ id }) => id))
  pages.forEach((one, nth) => expect(textsOf(one).join(' ')).toContain(`${nth + 1} / ${pages.length}`))
  // Upright, and nothing beyond the margins.
  expect(pages[0]!.height).toBeGreaterThan(pages[0]!.width)
  for (const one of pages) for (const { x } of one.texts) expect(x).toBeLessThan(one.width - 20)
})

test('groups stay on one page with their heads, and sums stand in their columns', async ({ page }) => {
  await mountBare(page, served.url, {
    rows: ROWS,
    definition: {
      ...DEFINITION,
      start: { groups: [{ column: 'kind', bucket: { by: 'value' } }], summaries: { height: 'maximum' } },
    },
  })
  const { pages } = await printed(page)
  for (let kind = 0; kind < 40; kind++) {
    const name = `kind ${kind}`
    const heads = pages.filter(one => textsOf(one).some(text => text.startsWith(`Kind ${name} ·`)))
    expect(heads).toHaveLength(1)
    // Each of its rows is on the page of its head.
    expect(textsOf(heads[0]!).filter(text => text === name)).toHaveLength(
      ROWS.filter(row => row.kind === name).length,
    )
    for (const one of pages) if (one !== heads[0]) expect(textsOf(one)).not.toContain(name)
  }
  const [first] = pages
  const at = first!.texts.find(({ text }) => text.startsWith('Kind kind 0 ·'))!
  const sum = first!.texts.find(({ y, x }) => Math.abs(y - at.y) < 1 && x > at.x + 100)!
  const tallest = Math.max(...ROWS.filter(({ kind }) => kind === 'kind 0').map(({ height }) => height))
  expect(sum.text).toBe(tallest.toFixed(1))
  expect(textsOf(pages.at(-1)!)).toContain('all 500 rows')
})

test('what is beyond the limit is said, and what was asked; wide tables lie, and all their columns are there', async ({
  page,
}) => {
  const keys = Array.from({ length: 26 }, (_, nth) => `c${nth}`)
  const wide = Array.from({ length: 300 }, (_, id) =>
    Object.fromEntries(keys.map(key => [key, `${key} of ${id}`])),
  )
  await mountBare(page, served.url, {
    rows: wide,
    definition: {
      ...DEFINITION,
      key: 'c0',
      columns: keys.map(key => ({ key, title: key.toUpperCase(), width: 140 })),
      start: {
        search: 'of',
        conditions: { c0: { match: 'all', parts: [{ kind: 'starts', text: 'c0 of 1' }] } },
      },
    },
  })
  const { pages, rows } = await printed(page, { most: 50 })
  expect(rows).toBe(50)
  // Letters that are drawn as one, or apart, are told so.
  const allOf = (one: PrintedPage): string => textsOf(one).join('').replace(/\s/g, '')
  expect(allOf(pages[0]!)).toContain('Thefirst50of111rows·with“of”·C0starts')
  expect(pages[0]!.width).toBeGreaterThan(pages[0]!.height)
  for (const one of pages) for (const key of keys) expect(allOf(one)).toContain(key.toUpperCase())
  for (const one of pages) for (const { x } of one.texts) expect(x).toBeLessThan(one.width - 20)
})

test('readers print by a button, in a frame that goes again', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await page.evaluate(() => {
    const printed: string[] = []
    Object.assign(window, { printed })
    const { contentWindow } = Object.getOwnPropertyDescriptors(HTMLIFrameElement.prototype)
    Object.defineProperty(HTMLIFrameElement.prototype, 'contentWindow', {
      get(this: HTMLIFrameElement) {
        const own = contentWindow.get!.call(this) as Window
        own.print = () => {
          printed.push(`${own.document.title}: ${own.document.querySelectorAll('tbody tr').length}`)
          own.dispatchEvent(new Event('afterprint'))
        }
        return own
      },
    })
  })
  await page.getByRole('button', { name: 'Print' }).click()
  await expect.poll(() => page.evaluate('printed')).toEqual(['Old trees: 500'])
  await expect(page.locator('iframe')).toHaveCount(0)
})
