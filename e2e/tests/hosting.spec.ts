import { expect, test, type Page } from '@playwright/test'
import { serveStatic, type Served } from '../support/bare-page.ts'

// What a host's page does on any ordinary day: nothing is lost, nothing is drawn beyond a screen, nothing told in vain.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

interface Told {
  code: string
  message: string
  path?: string
  column?: string
  nearest?: string | null
}
interface Handle {
  ready: Promise<void>
  arrangement: Record<string, unknown>
  definition: { title: string; columns: { key: string }[] } | null
  selectedCount: number
  source: unknown
  arrange(change: object): unknown
  setRows(rows: unknown, definition?: object): Promise<void>
  setDefinition(definition: object | null): Promise<void>
  on(name: string, listener: (event: never) => void): () => void
  unmount(): void
}
interface Scope {
  handle: Handle
  meadow: { mountMeadow(host: Element, options?: object): Handle }
  told: Told[]
  heard: string[]
}
declare const window: Window & Scope

const ROWS = Array.from({ length: 40 }, (_, id) => ({ id, name: `tree ${id}`, height: id % 7 }))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    { key: 'id', title: 'Number', width: 90 },
    { key: 'name', title: 'Tree', width: 150 },
    { key: 'height', title: 'Height m', width: 110 },
  ],
  start: { order: [{ column: 'height', direction: 'descending' }] },
}

/** The page with nothing mounted; `style` is that of the host, `body` what stands around it. */
async function openPage(page: Page, style = 'block-size: 400px'): Promise<void> {
  await page.goto(served.url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  await page.evaluate(given => {
    document.querySelector<HTMLElement>('#grid')!.style.cssText = `height:auto;${given}`
  }, style)
}
const titles = (page: Page): Promise<string[]> =>
  page
    .getByRole('columnheader')
    .evaluateAll(cells => cells.flatMap(cell => cell.querySelector('.title')?.textContent || []))
const firstTexts = (page: Page, place: number): Promise<string[]> =>
  page.locator(`.body .row [aria-colindex="${place}"]`).evaluateAll(cells =>
    cells
      .filter(cell => cell.checkVisibility())
      .map(cell => ({ text: cell.textContent ?? '', top: cell.getBoundingClientRect().top }))
      .sort((a, b) => a.top - b.top)
      .slice(0, 3)
      .map(cell => cell.text),
  )

test('an empty list costs neither the definition nor what is arranged', async ({ page }) => {
  await openPage(page)
  await page.evaluate(
    async ([rows, definition]) => {
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { definition, rows: [] })
      await window.handle.ready
      window.handle.arrange({ widths: { name: 222 }, hidden: ['id'] })
      await window.handle.setRows(rows)
    },
    [ROWS, DEFINITION] as const,
  )
  expect(await titles(page)).toEqual(['Tree', 'Height m'])
  expect(await firstTexts(page, 3)).toEqual(['6', '6', '6'])
  expect(await page.evaluate(() => window.handle.arrangement.widths)).toEqual({ name: 222 })
  await page.evaluate(async rows => {
    await window.handle.setRows([])
    await window.handle.setRows(rows)
  }, ROWS)
  expect(await titles(page)).toEqual(['Tree', 'Height m'])
  expect(await page.evaluate(() => window.handle.arrangement)).toMatchObject({
    widths: { name: 222 },
    hidden: ['id'],
    order: [{ column: 'height', direction: 'descending' }],
  })
})

test('what is made from the rows outlasts an empty list too', async ({ page }) => {
  await openPage(page)
  await page.evaluate(async rows => {
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows: [] })
    await window.handle.setRows(rows)
    window.handle.arrange({ order: [{ column: 'name', direction: 'descending' }], hidden: ['id'] })
    await window.handle.setRows([])
    await window.handle.setRows(rows)
  }, ROWS)
  expect(await titles(page)).toEqual(['Name', 'Height'])
  expect(await firstTexts(page, 2)).toEqual(['tree 9', 'tree 8', 'tree 7'])
})

test('a definition that comes before the rows, or after them, holds', async ({ page }) => {
  await openPage(page)
  const given = [ROWS, DEFINITION] as const
  await page.evaluate(async ([rows, definition]) => {
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!)
    await window.handle.setDefinition(definition)
    await window.handle.setRows(rows)
  }, given)
  expect(await titles(page)).toEqual(['Number', 'Tree', 'Height m'])
  await page.evaluate(async ([rows, definition]) => {
    window.handle.unmount()
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows })
    await window.handle.ready
    await window.handle.setDefinition(definition)
  }, given)
  expect(await titles(page)).toEqual(['Number', 'Tree', 'Height m'])
  await page.evaluate(() => window.handle.setDefinition(null))
  expect(await titles(page)).toEqual(['Id', 'Name', 'Height'])
})

test('a framework may keep everything in its own wrappers', async ({ page }) => {
  await openPage(page)
  await page.evaluate(async definition => {
    const wrapped = <T>(value: T): T =>
      typeof value === 'object' && value !== null
        ? (new Proxy(value, { get: (target, name) => wrapped(Reflect.get(target, name)) }) as T)
        : value
    const rows = Array.from({ length: 6000 }, (_, id) => ({ id, name: `tree ${id}`, height: id % 7 }))
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
      definition: wrapped(definition),
      rows: wrapped(rows),
      arrangement: wrapped({ hidden: ['id'] }),
    })
    await window.handle.ready
    window.handle.arrange(wrapped({ conditions: { height: { parts: [{ kind: 'above', value: 4 }] } } }))
  }, DEFINITION)
  await expect(page.locator('.foot .count')).toContainText('1,714 of 6,000')
  expect(await titles(page)).toEqual(['Tree', 'Height m'])
})

for (const [place, style, least] of [
  ['without a height', '', 300],
  ['with a least height', 'min-height: 500px', 480],
  ['as a grid', 'display: grid', 300],
  ['as a row of boxes', 'display: flex', 300],
  ['as a column of boxes', 'display: flex; flex-direction: column', 300],
  ['in a line of text', 'display: inline-block; width: 600px', 300],
] as const)
  test(`a place ${place} draws no more than a screen`, async ({ page }) => {
    const warnings: string[] = []
    page.on('console', message => message.type() === 'warning' && warnings.push(message.text()))
    await openPage(page, style)
    await page.evaluate(async () => {
      const rows = Array.from({ length: 60_000 }, (_, id) => ({ id, name: `tree ${id}` }))
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows })
      await window.handle.ready
    })
    await page.waitForTimeout(200)
    const box = (await page.locator('#grid').boundingBox())!
    expect(box.height).toBeGreaterThanOrEqual(least)
    expect(box.height).toBeLessThan(900)
    expect(box.width).toBeGreaterThan(500)
    const inner = (await page.locator('.meadow').boundingBox())!
    expect(Math.abs(inner.height - box.height)).toBeLessThan(3)
    expect(Math.abs(inner.width - box.width)).toBeLessThan(3)
    expect(await page.locator('.body .row').count()).toBeLessThan(80)
    if (least === 300) expect(warnings.join()).toContain('Give its element a height')
  })

test('a place with a height is filled, without a word', async ({ page }) => {
  const warnings: string[] = []
  page.on('console', message => message.type() === 'warning' && warnings.push(message.text()))
  for (const style of [
    'block-size: 333px',
    'block-size: 333px; display: grid',
    'block-size: 333px; display: flex',
  ]) {
    await openPage(page, style)
    await page.evaluate(async rows => {
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows })
      await window.handle.ready
    }, ROWS)
    expect((await page.locator('.meadow').boundingBox())!.height).toBe(333)
  }
  expect(warnings).toEqual([])
})

test('events say that something is different, and ready comes with the cells', async ({ page }) => {
  await openPage(page)
  const heard = await page.evaluate(
    async ([rows, definition]) => {
      const { mountMeadow } = window.meadow
      const handle = (window.handle = mountMeadow(document.querySelector('#grid')!, { definition, rows }))
      const seen: string[] = []
      // Newer rows overtake the first; whoever waits for these waits on.
      const overtaken = handle.setRows(structuredClone(rows).reverse())
      await handle.ready
      const shown = document.querySelector('#grid')!.shadowRoot!.querySelectorAll('.body .row .cell').length
      await overtaken
      for (const name of ['open', 'flow', 'selection', 'arrangement'])
        handle.on(name, (event: { count?: number }) =>
          seen.push(name === 'selection' ? `selection ${event.count}` : name),
        )
      for (let i = 0; i < 3; i++) await handle.setRows(structuredClone(rows).reverse())
      await new Promise(resolve => setTimeout(resolve, 100))
      const equal = seen.splice(0)
      return { shown, equal }
    },
    [ROWS, DEFINITION] as const,
  )
  expect(heard.shown).toBeGreaterThan(10)
  expect(heard.equal).toEqual([])
})

test('equal rows without a key are no news either; a selection that lives on is told of once', async ({
  page,
}) => {
  await openPage(page)
  await page.evaluate(async rows => {
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows })
    await window.handle.ready
    window.heard = []
    for (const name of ['open', 'flow']) window.handle.on(name, () => window.heard.push(name))
    await window.handle.setRows(structuredClone(rows))
  }, ROWS)
  expect(await page.evaluate(() => window.heard)).toEqual([])
  await page.evaluate(
    async ([rows, definition]) => {
      await window.handle.setRows(rows, definition)
    },
    [ROWS, DEFINITION] as const,
  )
  await page.locator('.body .row .box').nth(1).click()
  const counts = await page.evaluate(async definition => {
    const told: number[] = []
    window.handle.on('selection', (event: { count: number }) => told.push(event.count))
    const rows = Array.from({ length: 300 }, (_, id) => ({ id, name: `new ${id}`, height: id % 7 }))
    await window.handle.setRows(rows, definition)
    return [told, window.handle.selectedCount]
  }, DEFINITION)
  expect(counts).toEqual([[], 1])
})

test('nothing outlives unmounting, and what was arranged last is kept', async ({ page }) => {
  await openPage(page)
  const left = await page.evaluate(async () => {
    const host = document.querySelector('#grid')!
    host.innerHTML = '<p>The host’s own.</p>'
    const workers: Worker[] = []
    let ended = 0
    const Real = globalThis.Worker
    globalThis.Worker = class extends Real {
      constructor(...given: ConstructorParameters<typeof Worker>) {
        super(...given)
        workers.push(this)
      }
      override terminate(): void {
        ended++
        super.terminate()
      }
    }
    const rows = Array.from({ length: 6000 }, (_, id) => ({ id, name: `tree ${id}` }))
    const saved: unknown[] = []
    let answer: (value: null) => void = () => {}
    const slow = {
      load: () => new Promise<null>(resolve => (answer = resolve)),
      save: () => Promise.resolve(),
    }
    // Unmounted while the store has not answered.
    const waiting = window.meadow.mountMeadow(host, { rows, storage: slow })
    await new Promise(resolve => setTimeout(resolve, 800))
    waiting.unmount()
    answer(null)
    // Rows set on a grid that is gone.
    await waiting.setRows(rows)
    const storage = {
      load: () => Promise.resolve(null),
      save: (arrangement: { hidden: string[] }) => Promise.resolve(void saved.push(arrangement.hidden)),
    }
    const handle = window.meadow.mountMeadow(host, { rows, storage })
    await handle.ready
    handle.arrange({ hidden: ['name'] })
    handle.unmount()
    await new Promise(resolve => setTimeout(resolve, 500))
    globalThis.Worker = Real
    return { started: workers.length, ended, saved, text: (host as HTMLElement).innerText }
  })
  expect(left.started).toBeGreaterThan(0)
  expect(left.ended).toBe(left.started)
  expect(left.saved).toEqual([['name']])
  await expect(page.getByText('The host’s own.')).toBeVisible()
})

test('what cannot be arranged is refused with its place, and changes nothing', async ({ page }) => {
  await openPage(page)
  const told = await page.evaluate(
    async ([rows, definition]) => {
      const handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
        definition,
        rows,
        storage: { load: () => Promise.resolve({ order: 'by height' }), save: () => Promise.resolve() },
      })
      const problems: Told[] = []
      handle.on('problem', (event: Told) => problems.push(event))
      window.handle = handle
      await handle.ready
      const thrown = [
        { order: [{ column: 'heigth', direction: 'ascending' }] },
        { order: [{ column: 'height', direction: 'up' }] },
        { conditions: { height: { parts: [{ kind: 'bigger', value: 2 }] } } },
        { sorted: true },
        { page: -1 },
        { groups: ['nothing'] },
      ].map(change => {
        try {
          handle.arrange(change)
          return null
        } catch (error) {
          const [{ code, path, nearest }] = (error as { problems: Told[] }).problems
          return [code, path, nearest]
        }
      })
      const before = JSON.stringify(handle.arrangement)
      handle.arrange({ hidden: ['name'] })
      return {
        problems: problems.map(({ code, path }) => [code, path]),
        thrown,
        before: before.includes('heigth'),
      }
    },
    [ROWS, DEFINITION] as const,
  )
  expect(told.problems[0]).toEqual(['arrangement-not-valid', 'order'])
  expect(told.thrown).toEqual([
    ['no-such-column', 'order.0.column', 'height'],
    ['arrangement-not-valid', 'order.0.direction', null],
    ['arrangement-not-valid', expect.stringMatching(/^conditions\.height\.parts\.0/), null],
    ['arrangement-not-valid', '', null],
    ['arrangement-not-valid', 'page', null],
    ['no-such-column', 'groups.0.column', null],
  ])
  expect(told.before).toBe(false)
  expect(await titles(page)).toEqual(['Number', 'Height m'])
})

test('columns without a field say so in their place, and a source of no known kind what it is', async ({
  page,
}) => {
  await openPage(page)
  const told = await page.evaluate(
    async ([rows, definition]) => {
      const problems: Told[] = []
      const columns = definition.columns.map(column =>
        column.key === 'height' ? { ...column, key: 'heigth' } : column,
      )
      const handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
        definition: { ...definition, columns, start: {} },
      })
      handle.on('problem', (event: Told) => problems.push(event))
      await handle.setRows(rows)
      const refused = await handle.setRows({ kind: 'csv', text: 'a' }).catch((error: Error) => error.message)
      return { problems, refused }
    },
    [ROWS, DEFINITION] as const,
  )
  expect(told.problems[0]).toMatchObject({ code: 'no-such-field', column: 'heigth', nearest: 'height' })
  expect(told.refused).toContain('“csv”')
  expect(told.problems[1].code).toBe('no-such-source')
  expect(await titles(page)).toEqual(['Number', 'Tree', 'Height m'])
  expect((await firstTexts(page, 4))[0]).toContain('no field “heigth”; “height”?')
})

test('two mounts in one element, another document, a dialog, a page’s own keys', async ({ page }) => {
  await openPage(page)
  await page.evaluate(async rows => {
    const host = document.querySelector('#grid')!
    window.meadow.mountMeadow(host, { rows })
    window.handle = window.meadow.mountMeadow(host, { rows })
    await window.handle.ready
  }, ROWS)
  expect(await page.locator('.meadow').count()).toBe(1)
  const inFrame = await page.evaluate(async rows => {
    const frame = document.createElement('iframe')
    document.body.append(frame)
    const place = frame.contentDocument!.createElement('div')
    place.style.cssText = 'block-size:120px'
    frame.contentDocument!.body.append(place)
    const handle = window.meadow.mountMeadow(place, { rows })
    await handle.ready
    return place.shadowRoot!.querySelectorAll('.body .row').length
  }, ROWS)
  expect(inFrame).toBeGreaterThan(0)
  await page.evaluate(
    async ([rows, definition]) => {
      window.handle.unmount()
      document.body.innerHTML =
        '<dialog style="inline-size:800px;block-size:500px"><div id="grid" style="block-size:400px"></div></dialog><p>elsewhere</p>'
      document.querySelector('dialog')!.showModal()
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
        rows,
        definition: { ...definition, strip: true, askingStrip: true },
      })
      await window.handle.ready
      window.heard = []
      window.addEventListener('keydown', event => {
        if (event.ctrlKey && event.key.length === 1) {
          window.heard.push(event.key)
          event.preventDefault()
        }
      })
    },
    [ROWS, DEFINITION] as const,
  )
  await page.getByRole('columnheader', { name: 'Tree' }).click()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.locator('[part=card]')).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.press('Control+s')
  expect(await page.evaluate(() => window.heard)).toEqual(['k', 's'])
  await page.keyboard.press('Escape')
  await expect(page.locator('[part=card]')).toBeHidden()
  expect(await page.evaluate(() => document.querySelector('dialog')!.open)).toBe(true)
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.locator('[part=card]')).toBeVisible()
  await page.mouse.click(20, 20)
  await expect(page.locator('[part=card]')).toBeHidden()
})

test('what holds for the page’s texts does not reach cells, and edges follow the pointer in a scaled page', async ({
  page,
}) => {
  for (const around of ['', 'transform: scale(0.5); transform-origin: 0 0', 'zoom: 1.5']) {
    await openPage(page, 'block-size: 300px; inline-size: 700px')
    await page.evaluate(
      async ([rows, definition, style]) => {
        document.body.style.cssText = `text-align: right; text-transform: uppercase; letter-spacing: 4px; font-size: 40px; ${style}`
        window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition })
        await window.handle.ready
      },
      [ROWS, DEFINITION, around] as const,
    )
    const look = await page
      .locator('.body .row .cell')
      .nth(2)
      .evaluate(cell => {
        const { textAlign, textTransform, letterSpacing, fontSize } = getComputedStyle(cell)
        return { textAlign, textTransform, letterSpacing, small: parseFloat(fontSize) < 20 }
      })
    expect(look).toEqual({ textAlign: 'start', textTransform: 'none', letterSpacing: 'normal', small: true })
    const grip = page.getByRole('columnheader', { name: 'Tree' }).locator('.grip')
    const from = (await grip.boundingBox())!
    const x = from.x + from.width - 2
    await page.mouse.move(x, from.y + from.height / 2)
    await page.mouse.down()
    await page.mouse.move(x + 60, from.y + from.height / 2, { steps: 4 })
    await page.mouse.up()
    const to = (await grip.boundingBox())!
    expect(Math.abs(to.x + to.width - from.x - from.width - 60)).toBeLessThan(2)
  }
})

test('a drag that misses a heading’s border orders nothing, and one close by takes it', async ({ page }) => {
  await openPage(page)
  await page.evaluate(
    async ([rows, definition]) => {
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition })
      await window.handle.ready
    },
    [ROWS, DEFINITION] as const,
  )
  const before = await page.evaluate(() => JSON.stringify(window.handle.arrangement.order))
  const tree = page.getByRole('columnheader', { name: 'Tree' })
  for (let beyond = -12; beyond <= 12; beyond++) {
    const box = (await tree.boundingBox())!
    const edge = box.x + box.width
    await page.mouse.move(edge + beyond, box.y + 12)
    await page.mouse.down()
    await page.mouse.move(edge + beyond + 20, box.y + 12, { steps: 3 })
    await page.mouse.up()
    const after = (await tree.boundingBox())!
    const order = await page.evaluate(() => JSON.stringify(window.handle.arrangement.order))
    expect(order, String(beyond)).toBe(before)
    if (Math.abs(beyond) <= 5) expect(after.width - box.width, String(beyond)).toBe(20)
  }
  const box = (await tree.boundingBox())!
  await page.mouse.click(box.x + box.width + 3, box.y + 12)
  expect(await page.evaluate(() => JSON.stringify(window.handle.arrangement.order))).toBe(before)
  await page.mouse.click(box.x + box.width + 40, box.y + 12)
  expect(await page.evaluate(() => JSON.stringify(window.handle.arrangement.order))).not.toBe(before)
})

test('a search is marked as soon as its cells are there, and all of bar and foot is in reach', async ({
  page,
}) => {
  await openPage(page, 'block-size: 360px; inline-size: 560px')
  await page.evaluate(async definition => {
    const rows = Array.from({ length: 8000 }, (_, id) => ({ id, name: `tree ${id}`, height: id % 7 }))
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
      rows,
      definition: { ...definition, pages: { size: 50, sizes: [50, 100] } },
    })
    await window.handle.ready
    window.handle.arrange({
      search: 'tree',
      conditions: {
        height: { parts: [{ kind: 'above', value: 1 }] },
        name: {
          parts: [
            { kind: 'one-of', values: ['tree 3', 'tree 4', 'tree 5'] },
            { kind: 'contains', text: 'tree' },
          ],
          match: 'any',
        },
      },
      groups: ['height'],
    })
  }, DEFINITION)
  await page.locator('.body .row .box').nth(2).click()
  const marks = (): Promise<number> => page.evaluate(() => CSS.highlights.get('meadow-found')?.size ?? 0)
  await expect.poll(marks).toBeGreaterThan(4)
  for (const width of [700, 560, 420, 320, 240]) {
    await page.evaluate(
      px => (document.querySelector<HTMLElement>('#grid')!.style.inlineSize = `${px}px`),
      width,
    )
    await page.waitForTimeout(250)
    const outside = await page.evaluate(() => {
      const host = document.querySelector('#grid')!
      const { left, right, bottom } = host.getBoundingClientRect()
      return [
        ...host.shadowRoot!.querySelectorAll<HTMLElement>(':is(.bar, .foot) :is(button, input, select)'),
      ]
        .filter(element => element.checkVisibility())
        .filter(element => {
          const box = element.getBoundingClientRect()
          const there = host.shadowRoot!.elementFromPoint(
            (box.left + box.right) / 2,
            (box.top + box.bottom) / 2,
          )
          const covered = !there || !(element.contains(there) || there.contains(element))
          return covered || box.left < left - 1 || box.right > right + 1 || box.bottom > bottom + 1
        })
        .map(element => element.ariaLabel ?? element.textContent)
    })
    expect(outside, String(width)).toEqual([])
  }
})

test('a find that lies behind the end of a cell is marked at its edge', async ({ page }) => {
  await openPage(page, 'block-size: 360px')
  await page.evaluate(async () => {
    const remarks = [
      'short moss',
      'a remark that goes on for longer than its cell, about moss',
      'moss that is seen at once, in a remark longer than its cell',
    ]
    const rows = remarks.map(remark => ({ remark }))
    window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, {
      rows,
      definition: {
        format: 'vast-meadow-grid',
        version: 3,
        columns: [{ key: 'remark', title: 'Remark', width: 160 }],
      },
    })
    await window.handle.ready
    window.handle.arrange({ search: 'moss' })
  })
  const cells = page.locator('.body .row [aria-colindex="2"]')
  await expect(cells.nth(1)).toHaveClass(/found-beyond/)
  await expect(cells.nth(0)).not.toHaveClass(/found-beyond/)
  await expect(cells.nth(2)).not.toHaveClass(/found-beyond/)
  await page.evaluate(() => window.handle.arrange({ search: '' }))
  await expect(cells.nth(1)).not.toHaveClass(/found-beyond/)
})

test('a click on a cell leaves the ticked rows ticked; Shift ticks from it on', async ({ page }) => {
  await openPage(page)
  await page.evaluate(
    async ([rows, definition]) => {
      window.handle = window.meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition })
      await window.handle.ready
    },
    [ROWS, DEFINITION] as const,
  )
  await page.locator('.body .row .box').nth(1).click()
  const cell = (row: number) => page.locator('.body .row').nth(row).locator('.cell').nth(2)
  await cell(3).click()
  expect(await page.evaluate(() => window.handle.selectedCount)).toBe(1)
  await page
    .locator('.body .row .box')
    .nth(5)
    .click({ modifiers: ['Shift'] })
  await expect.poll(() => page.evaluate(() => window.handle.selectedCount)).toBe(4)
})

test('the element takes options that were set before it was known, in any order, and tells what is wrong', async ({
  page,
}) => {
  await page.goto(served.url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  const told = await page.evaluate(
    async ([rows, definition]) => {
      interface Element extends HTMLElement {
        rows: unknown
        definition: unknown
        handle: Handle | null
      }
      const problems: string[] = []
      const element = document.createElement('vast-meadow') as Element
      element.style.cssText = 'block-size:300px'
      element.addEventListener('meadow-problem', event =>
        problems.push((event as CustomEvent<Told>).detail.code),
      )
      // A property of its own hides the one of the class, as it does for an element that is not known yet.
      Object.defineProperty(element, 'definition', { value: definition, configurable: true, writable: true })
      document.body.prepend(element)
      element.rows = rows
      await element.handle?.ready
      const titles = () => element.handle?.definition?.columns.length
      const first = [titles(), element.handle?.definition?.title]
      element.definition = { ...definition, columns: [{ key: '' }] }
      await new Promise(resolve => setTimeout(resolve, 50))
      const other = document.createElement('vast-meadow') as Element
      other.addEventListener('meadow-problem', event =>
        problems.push((event as CustomEvent<Told>).detail.code),
      )
      other.definition = { version: 'x' }
      other.rows = rows
      document.body.prepend(other)
      await new Promise(resolve => setTimeout(resolve, 100))
      return { first, kept: element.handle?.definition?.title, problems }
    },
    [ROWS, DEFINITION] as const,
  )
  expect(told).toEqual({
    first: [3, 'Trees'],
    kept: 'Trees',
    problems: ['definition-not-valid', 'definition-not-valid'],
  })
})
