import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page'

const ROWS = Array.from({ length: 300 }, (_, id) => ({
  id,
  kind: ['ash', 'elm', 'oak'][id % 3],
  place: `place ${id % 7}`,
  height: id % 50,
  count: id % 7,
}))
const COLUMNS = [
  { key: 'id', title: 'Number', width: 90, movable: false },
  { key: 'kind', title: 'Kind', width: 160 },
  { key: 'place', title: 'Place', width: 150 },
  { key: 'height', title: 'Height', width: 110 },
  { key: 'count', title: 'Count', width: 110 },
]
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  undo: true,
  arrangements: true,
  columns: COLUMNS,
}

let served: Served
test.beforeAll(async () => void (served = await serveStatic()))
test.afterAll(() => served.close())

interface Handle {
  readonly arrangement: {
    columns: string[]
    hidden: string[]
    pinnedStart: string[]
    widths: Record<string, number>
    order: { column: string; direction: string }[]
    search: string
  }
  readonly undoable: string | null
  readonly redoable: string | null
  readonly differences: readonly { text: string }[]
  readonly arrangementNames: readonly string[]
  readonly ready: Promise<void>
  arrange(change: object, why?: string): void
  arrangeByLink(link: string): Promise<boolean>
  on(name: 'problem', told: (problem: { code: string; message: string }) => void): void
  unmount(): void
}
interface Scope {
  handle: Handle
  told: string[]
  readonly meadow: {
    mountMeadow(host: HTMLElement, options: object): Handle
    localArrangements(name: string, area?: unknown): object
    indexedArrangements(name: string): object
  }
}
type Ready = 'local' | 'indexed'

/** Mounts a grid whose arrangement is kept in the browser; `window.told` has the problems. */
async function mountKept(
  page: Page,
  store: Ready,
  definition: object = DEFINITION,
  hash = '',
): Promise<void> {
  await page.goto(`${served.url}/${hash}`)
  await page.waitForFunction(() => 'loaded' in window)
  await page.evaluate(
    async ({ rows, definition, store }) => {
      const scope = window as unknown as Scope
      const { mountMeadow, localArrangements, indexedArrangements } = scope.meadow
      const storage = store === 'local' ? localArrangements('trees') : indexedArrangements('trees')
      const host = document.getElementById('grid')!
      scope.handle = mountMeadow(host, { rows, definition, storage, link: 'view' })
      scope.told = []
      scope.handle.on('problem', ({ message }) => scope.told.push(message))
      await scope.handle.ready
    },
    { rows: ROWS, definition, store },
  )
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<T> =>
  page.evaluate(`(${of.toString()})(window.handle)`) as Promise<T>
const told = (page: Page): Promise<string[]> => page.evaluate(() => (window as unknown as Scope).told)
const order = (page: Page): Promise<string> =>
  handle(page, one => one.arrangement.order.map(({ column, direction }) => `${column} ${direction}`).join())
const heading = (page: Page, title: string): Locator =>
  page.getByRole('columnheader', { name: title, exact: true })
const button = (page: Page, name: string | RegExp): Locator => page.getByRole('button', { name, exact: true })

test('what a reader did is taken back and done again: by key, by button, and it is said what', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await expect(button(page, 'Undo')).toBeDisabled()
  await heading(page, 'Height').click()
  await heading(page, 'Count').click()
  expect(await order(page)).toBe('count ascending')
  await page.keyboard.press('Control+z')
  expect(await order(page)).toBe('height ascending')
  await expect(page.getByRole('status').first()).toHaveText('Taken back: Ordered by Count ascending.')
  await button(page, 'Redo: Ordered by Count ascending').click()
  expect(await order(page)).toBe('count ascending')
  await button(page, 'Undo: Ordered by Count ascending').click()
  await button(page, 'Undo: Ordered by Height ascending').click()
  expect(await order(page)).toBe('')
  await expect(button(page, 'Undo')).toBeDisabled()
  // What code arranges is no act of the reader's.
  await handle(page, one => one.arrange({ hidden: ['kind'] }))
  await expect(button(page, 'Undo')).toBeDisabled()
  await heading(page, 'Place').focus()
  await page.keyboard.press('Control+Shift+z')
  await page.keyboard.press('Control+Shift+z')
  expect(await order(page)).toBe('count ascending')
  expect(await handle(page, one => one.arrangement.hidden)).toEqual(['kind'])
})

test('a width that is dragged is one act, and a hidden column that comes back has its cells', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const at = (await heading(page, 'Place').boundingBox())!
  await page.mouse.move(at.x + at.width - 2, at.y + 10)
  await page.mouse.down()
  await page.mouse.move(at.x + at.width + 60, at.y + 10, { steps: 12 })
  await page.mouse.up()
  expect(await handle(page, one => one.undoable)).toBe('Place is 212 px wide')
  await heading(page, 'Kind').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await button(page, 'Hide').click()
  await expect(heading(page, 'Kind')).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(heading(page, 'Kind')).toBeVisible()
  await expect(page.getByRole('gridcell', { name: 'ash', exact: true }).first()).toBeVisible()
  await page.keyboard.press('Control+z')
  expect(await handle(page, one => one.arrangement.widths)).toEqual({})
  // The keyboard is still in the grid.
  await page.keyboard.press('Control+Shift+z')
  expect(await handle(page, one => one.arrangement.widths)).toEqual({ place: 212 })
})

test('the keys are the page’s where there is nothing to take back, and the field’s where one types', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await page.evaluate(() => {
    const scope = window as unknown as Scope & { passed: number }
    scope.passed = 0
    window.addEventListener('keydown', event => {
      if (event.key === 'z' && event.ctrlKey && !event.defaultPrevented) scope.passed++
    })
  })
  const passed = (): Promise<number> => page.evaluate(() => (window as unknown as { passed: number }).passed)
  await heading(page, 'Kind').focus()
  await page.keyboard.press('Control+z')
  expect(await passed()).toBe(1)
  await heading(page, 'Height').click()
  await page.getByRole('searchbox', { name: 'Search rows' }).pressSequentially('ash')
  await page.keyboard.press('Control+z')
  expect(await order(page)).toBe('height ascending')
  await heading(page, 'Height').focus()
  await page.keyboard.press('Control+z')
  expect(await passed()).toBeLessThanOrEqual(2)
})

test('a builder is kept from nothing, and has no history here', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await page.evaluate(() =>
    (window as unknown as { handle: { actAs(who: string): void } }).handle.actAs('builder'),
  )
  await heading(page, 'Height').click()
  expect(await handle(page, one => one.undoable)).toBeNull()
  // What a reader did is not for the builder to take back, or to do again.
  await page.evaluate(() =>
    (window as unknown as { handle: { actAs(who: string): void } }).handle.actAs('reader'),
  )
  await heading(page, 'Count').click()
  await page.keyboard.press('Control+z')
  await expect(button(page, 'Redo: Ordered by Count ascending')).toBeEnabled()
  await page.evaluate(() =>
    (window as unknown as { handle: { actAs(who: string): void } }).handle.actAs('builder'),
  )
  await expect(button(page, 'Redo')).toBeDisabled()
})

test('columns are found, put elsewhere, pinned and hidden in one list, and back as the builder had them', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const titles = (): Promise<string[]> =>
    page.getByRole('dialog', { name: 'Columns' }).locator('li label span').allTextContents()
  await button(page, 'Columns').click()
  await expect(page.getByRole('searchbox', { name: 'Find a column' })).toBeFocused()
  await expect(button(page, 'As the builder had it')).toBeDisabled()
  // By key.
  await button(page, 'Move Count: drag, or arrow up and down').focus()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  expect(await titles()).toEqual(['Number', 'Kind', 'Count', 'Place', 'Height'])
  await expect(button(page, 'Move Count: drag, or arrow up and down')).toBeFocused()
  await page.keyboard.press('ArrowDown')
  expect(await titles()).toEqual(['Number', 'Kind', 'Place', 'Count', 'Height'])
  // By pointer, before another one.
  const [from, to] = await Promise.all(
    ['Height', 'Kind'].map(
      async title => (await button(page, `Move ${title}: drag, or arrow up and down`).boundingBox())!,
    ),
  )
  await page.mouse.move(from!.x + 6, from!.y + 8)
  await page.mouse.down()
  await page.mouse.move(to!.x + 6, to!.y + 2, { steps: 5 })
  await expect(page.locator('.menu li.before')).toContainText('Kind')
  await page.mouse.up()
  expect(await titles()).toEqual(['Number', 'Height', 'Kind', 'Place', 'Count'])
  // Let go beside the list, it stays.
  await page.mouse.move(from!.x + 6, from!.y + 8)
  await page.mouse.down()
  await page.mouse.move(40, 500, { steps: 5 })
  await page.mouse.up()
  expect(await titles()).toEqual(['Number', 'Height', 'Kind', 'Place', 'Count'])
  await button(page, 'start: pin Place there').click()
  await button(page, 'end: pin Height there').click()
  expect(await titles()).toEqual(['Place', 'Number', 'Kind', 'Count', 'Height'])
  await expect(button(page, 'start: pin Place there')).toHaveAttribute('aria-pressed', 'true')
  await page.getByRole('checkbox', { name: 'Count' }).uncheck()
  await expect(heading(page, 'Count')).toHaveCount(0)
  await page.getByRole('searchbox', { name: 'Find a column' }).fill('ki')
  expect(await titles()).toEqual(['Kind'])
  await page.getByRole('searchbox', { name: 'Find a column' }).fill('zzz')
  await expect(page.getByText('No column has that title.')).toBeVisible()
  await page.getByRole('searchbox', { name: 'Find a column' }).fill('')
  // What stays where it is cannot be taken.
  await expect(button(page, 'start: pin Number there')).toBeDisabled()
  await button(page, 'As the builder had it').click()
  expect(await titles()).toEqual(['Number', 'Kind', 'Place', 'Height', 'Count'])
  expect(await handle(page, one => [one.arrangement.hidden, one.arrangement.pinnedStart])).toEqual([[], []])
  await page.keyboard.press('Escape')
  await expect(button(page, 'Columns')).toBeFocused()
})

test('all columns fit what they hold, or the room', async ({ page }) => {
  await page.setViewportSize({ width: 900, height: 500 })
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const widths = (): Promise<number[]> =>
    page
      .locator('.head .row')
      .first()
      .locator('.cell[data-column]:not([data-column=""])')
      .evaluateAll(cells => cells.map(cell => cell.getBoundingClientRect().width))
  await button(page, 'Columns').click()
  await button(page, 'Fit to the room').click()
  const room = await page.locator('.view').evaluate(view => view.getBoundingClientRect().width)
  const box = await page
    .locator('.head .cell')
    .first()
    .evaluate(cell => cell.getBoundingClientRect().width)
  await expect.poll(async () => (await widths()).reduce((sum, width) => sum + width, 0)).toBe(room - box)
  await button(page, 'Fit all').click()
  await expect.poll(async () => (await widths()).every(width => width < 150)).toBe(true)
  expect(await handle(page, one => Object.keys(one.arrangement.widths).sort())).toEqual(
    COLUMNS.map(({ key }) => key).sort(),
  )
})

test('a heading that stays where it is says so where others would land', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const [from, to] = [
    (await heading(page, 'Number').boundingBox())!,
    (await heading(page, 'Height').boundingBox())!,
  ]
  await page.mouse.move(from.x + 30, from.y + 15)
  await page.mouse.down()
  await page.mouse.move(to.x + 20, to.y + 15, { steps: 4 })
  await expect(page.locator('.ghost')).toHaveText('Number stays where it is.')
  await expect(page.locator('.landing')).toHaveClass(/refused/)
  await page.mouse.move(to.x + 20, to.y + 200, { steps: 4 })
  await expect(page.locator('.ghost')).toHaveText('Number')
  await page.mouse.up()
  expect(await handle(page, one => one.arrangement.columns[0])).toBe('id')
})

test('tabs that keep names at the very same moment lose none of each other', async ({ page, context }) => {
  await mountKept(page, 'indexed')
  const other = await context.newPage()
  await mountKept(other, 'indexed')
  for (let round = 0; round < 5; round++)
    await Promise.all(
      [page, other].map((tab, nth) =>
        tab.evaluate(
          name =>
            (
              window as unknown as { handle: { saveArrangement(name: string): Promise<void> } }
            ).handle.saveArrangement(name),
          `${round} of ${nth}`,
        ),
      ),
    )
  await mountKept(page, 'indexed')
  expect(await handle(page, one => one.arrangementNames.length)).toBe(10)
})

for (const store of ['local', 'indexed'] as const) {
  test(`arrangements are kept by name, over visits and tabs (${store})`, async ({ page, context }) => {
    await mountKept(page, store)
    await heading(page, 'Height').click()
    await button(page, 'Arrangement').click()
    await expect(page.getByText('Ordered by Height ascending', { exact: true })).toBeVisible()
    await page.getByRole('textbox', { name: 'Name for what you see now' }).fill('By height')
    await page.keyboard.press('Enter')
    await expect(button(page, 'By height')).toBeVisible()
    // Another tab that was open all the while keeps one of its own: neither is lost.
    const other = await context.newPage()
    await mountKept(other, store)
    expect(await order(other)).toBe('height ascending')
    await heading(other, 'Count').click()
    await button(page, 'Arrangement').focus()
    await page.getByRole('textbox', { name: 'Name for what you see now' }).fill('Tall')
    await page.keyboard.press('Enter')
    await expect.poll(() => handle(page, one => one.arrangementNames.length)).toBe(2)
    await button(other, 'Arrangement').click()
    await other.getByRole('textbox', { name: 'Name for what you see now' }).fill('By count')
    await other.keyboard.press('Enter')
    await expect
      .poll(() => handle(other, one => [...one.arrangementNames].sort()))
      .toEqual(['By count', 'By height', 'Tall'])

    await mountKept(page, store)
    expect(await order(page)).toBe('count ascending')
    await button(page, 'Arrangement').click()
    await button(page, 'By height').click()
    expect(await order(page)).toBe('height ascending')
    // A name that is taken is said, and nothing changes.
    await button(page, 'Rename: Tall').click()
    await page.keyboard.type('By height')
    await page.keyboard.press('Enter')
    await expect(page.locator('.arrangements .problem')).toHaveText(
      'There is an arrangement “By height” already.',
    )
    await button(page, 'Rename: Tall').click()
    await expect(page.getByRole('textbox', { name: 'New name of Tall' })).toBeFocused()
    await page.keyboard.type('Tallest')
    await page.keyboard.press('Enter')
    await expect(button(page, 'Tallest')).toBeVisible()
    await button(page, 'Delete Tallest').click()
    await expect(button(page, 'Tallest')).toHaveCount(0)
    await button(page, 'By count opens first, when the page opens').click()
    await expect(button(page, 'By count opens first, when the page opens')).toHaveAttribute(
      'aria-pressed',
      'true',
    )
    await mountKept(page, store)
    expect(await order(page)).toBe('count ascending')
    expect(await told(page)).toEqual([])
  })
}

test('what differs from the start is told in sentences, and each is put back', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await button(page, 'Arrangement').click()
  await expect(page.getByText('Everything is as the grid starts.')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(button(page, 'Arrangement')).toBeFocused()
  await handle(page, one =>
    one.arrange(
      { hidden: ['kind'], widths: { place: 99 }, order: [{ column: 'count', direction: 'descending' }] },
      'reader',
    ),
  )
  await button(page, 'Arrangement').click()
  const sentences = page.locator('.arrangements li span')
  await expect(sentences).toHaveText(['Kind is hidden', 'Place is 99 px wide', 'Ordered by Count descending'])
  await button(page, 'Put back: Place is 99 px wide').click()
  await expect(sentences).toHaveText(['Kind is hidden', 'Ordered by Count descending'])
  await button(page, 'Everything as at the start').click()
  await expect(page.getByText('Everything is as the grid starts.')).toBeVisible()
  expect(await handle(page, one => one.differences)).toEqual([])
})

test('a link holds what is seen, and what is none is refused with a sentence', async ({ page }) => {
  await mountKept(page, 'local')
  await heading(page, 'Height').click()
  await page.getByRole('searchbox', { name: 'Search rows' }).fill('oak')
  await expect.poll(() => handle(page, one => one.arrangement.search)).toBe('oak')
  await button(page, 'Arrangement').click()
  await button(page, 'Copy a link to what you see').click()
  await expect(button(page, 'Copied')).toBeVisible()
  const address = await page.evaluate(() => navigator.clipboard.readText())
  const { hash } = new URL(address)
  expect(hash).toMatch(/^#view=a1\.[\w-]+$/)
  // On another machine nothing is kept; the link alone says it.
  await page.evaluate(() => localStorage.clear())
  await mountKept(page, 'local', DEFINITION, hash)
  expect(await order(page)).toBe('height ascending')
  expect(await handle(page, one => one.arrangement.search)).toBe('oak')
  expect(await handle(page, one => one.arrangeByLink('a1.nonsense'))).toBe(false)
  expect(await told(page)).toEqual([
    'The arrangement in this link is damaged or cut off; ask for the link again.',
  ])
  expect(await order(page)).toBe('height ascending')
  // A link that is opened where the page is open already is taken too.
  await page.evaluate(() => (location.hash = '#view=a9.zzzz'))
  await expect.poll(async () => (await told(page)).length).toBe(2)
  await handle(page, one => one.arrange({ order: [], search: '' }))
  await page.evaluate(to => (location.hash = to), hash)
  await expect.poll(() => order(page)).toBe('height ascending')
})

test('a store that is refused, full or damaged is told of once and costs nothing', async ({ page }) => {
  await page.goto(served.url)
  await page.waitForFunction(() => 'loaded' in window)
  const outcome = await page.evaluate(
    async ({ rows, definition }) => {
      const scope = window as unknown as Scope
      const refused = (): never => {
        throw new DOMException('Access is denied for this document.', 'SecurityError')
      }
      const full = (): never => {
        throw new DOMException('The quota has been exceeded.', 'QuotaExceededError')
      }
      const areas = {
        refused: { getItem: refused, setItem: refused },
        full: { getItem: () => null, setItem: full },
        damaged: { getItem: () => '{"order": [', setItem: () => {} },
        foreign: {
          getItem: () =>
            '{"order": "by height", "named": [{"name": 5}, {"name": "Mine", "arrangement": {}}]}',
          setItem: () => {},
        },
      }
      const made: Record<string, { told: string[]; order: number; names: readonly string[] }> = {}
      for (const [name, area] of Object.entries(areas)) {
        const host = document.getElementById('grid')!
        const handle = scope.meadow.mountMeadow(host, {
          rows,
          definition,
          storage: scope.meadow.localArrangements('trees', area),
        })
        const told: string[] = []
        handle.on('problem', ({ code, message }) => told.push(`${code}: ${message}`))
        await handle.ready
        for (const column of ['height', 'kind', 'place']) {
          handle.arrange({ order: [{ column, direction: 'ascending' }] }, 'reader')
          await new Promise(resolve => setTimeout(resolve, 400))
        }
        made[name] = { told, order: handle.arrangement.order.length, names: handle.arrangementNames }
        handle.unmount()
      }
      return made
    },
    { rows: ROWS, definition: DEFINITION },
  )
  const told = Object.fromEntries(Object.entries(outcome).map(([name, one]) => [name, one.told]))
  expect(told.refused).toEqual([
    expect.stringMatching(/^not-kept: What you arranged before could not be read.*denied/),
    expect.stringMatching(/^not-kept: What you arrange is not kept.*denied/),
  ])
  expect(told.full).toEqual([expect.stringMatching(/^not-kept: What you arrange is not kept.*quota/)])
  expect(told.damaged).toEqual([
    expect.stringMatching(/^not-kept: What you arranged before could not be read/),
  ])
  expect(told.foreign).toEqual([expect.stringMatching(/^arrangement-not-valid: .*order/)])
  expect(outcome.foreign!.names).toEqual(['Mine'])
  for (const { order } of Object.values(outcome)) expect(order).toBe(1)
})

test('what was kept is laid over a changed definition, and what does not hold any more is told', async ({
  page,
}) => {
  await mountKept(page, 'local')
  await heading(page, 'Height').click()
  await handle(page, one =>
    one.arrange(
      {
        widths: { place: 222, kind: 99 },
        hidden: ['count'],
        conditions: { kind: { match: 'all', parts: [{ kind: 'equals', value: 'oak' }] } },
      },
      'reader',
    ),
  )
  await page.waitForTimeout(600)
  const later = {
    ...DEFINITION,
    columns: [
      { key: 'id', title: 'Number', movable: false },
      { key: 'kind', title: 'Kind', askable: false },
      { key: 'place', title: 'Place' },
      { key: 'height', title: 'Height', orderable: false },
    ],
  }
  await mountKept(page, 'local', later)
  expect(await told(page)).toEqual([
    'Order of “Height” was left out: rows cannot be ordered by it any more.',
    'Condition of “Kind” was left out: it cannot be asked any more, or only as the grid starts.',
  ])
  expect(await order(page)).toBe('')
  expect(await handle(page, one => one.arrangement.widths)).toEqual({ place: 222, kind: 99 })
  // The column comes back, hidden as it was.
  await handle(page, one => one.arrange({ widths: { place: 223, kind: 99 } }, 'reader'))
  await page.waitForTimeout(600)
  await mountKept(page, 'local')
  expect(await handle(page, one => one.arrangement.hidden)).toEqual(['count'])
})
