import { expect, test, type Locator } from '@playwright/test'
import { Workshop } from '../support/workshop'

const DEMO = 'Sightings on the server'
/** As the server of these tests is told to make. */
const ROWS = '200,000'

/** Rows that are drawn where they are seen, from the top. */
const rows = (workshop: Workshop): Locator => workshop.grid.locator('.body .row:visible')

const scrollTo = (workshop: Workshop, share: number): Promise<void> =>
  workshop.page.locator('.scroller').evaluate((scroller, part) => {
    scroller.scrollTop = (scroller.scrollHeight - scroller.clientHeight) * part
  }, share)

test.describe('rows that a service holds', () => {
  test('are shown, ordered, narrowed, searched, grouped and summed up by it', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    await expect(workshop.readout).toContainText(`${ROWS} rows`)
    await workshop.openPanel('Source')
    await expect(workshop.panel).toContainText('the service at localhost')

    // Ordered by the service, the greatest first: what is drawn never ascends.
    await page.getByRole('columnheader', { name: 'Count' }).click()
    await page.getByRole('columnheader', { name: 'Count' }).click()
    await expect(page.getByRole('columnheader', { name: 'Count' })).toHaveAttribute('aria-sort', 'descending')
    const counts = rows(workshop).locator('[role=gridcell][aria-colindex="7"]')
    await expect(counts.first()).toHaveText('500')
    const texts = (await counts.allTextContents()).filter(Boolean).map(Number)
    expect(texts.length).toBeGreaterThan(8)
    expect(texts).toEqual([...texts].sort((a, b) => b - a))

    // One of the values that the card lists.
    const heading = page.getByRole('columnheader', { name: 'State' })
    await heading.focus()
    await page.keyboard.press('Alt+ArrowDown')
    const card = page.getByRole('dialog', { name: 'State' })
    await card.getByLabel('withdrawn').check()
    await page.keyboard.press('Escape')
    await expect(workshop.readout).toContainText(`of ${ROWS} rows`)
    const narrowed = Number(
      (await workshop.readout.textContent())?.match(/([\d,]+)\s*of/)?.[1]?.replaceAll(',', ''),
    )
    expect(narrowed).toBeGreaterThan(10_000)
    expect(narrowed).toBeLessThan(60_000)
    // What a condition alone holds back is asked of the service while somebody looks.
    await workshop.openPanel('Conditions')
    const held = (200_000 - narrowed).toLocaleString('en-GB')
    await expect(workshop.panel.locator('article').filter({ hasText: 'State' })).toContainText(
      `holds back ${held}`,
    )

    await page.getByRole('searchbox').fill('orchid')
    await expect(rows(workshop).first()).toContainText('orchid')
    await expect(rows(workshop).first()).toContainText('withdrawn')
  })

  test('come from an address elsewhere, and are fetched as soon as few of them pass', async ({ page }) => {
    const workshop = new Workshop(page)
    await page.goto('/')
    await page.getByRole('button', { name: 'From an address' }).click()
    const dialog = page.getByRole('dialog')
    // Through the workshop's server, which fetches from its own host here as from any that is listed.
    await dialog.getByLabel('Address', { exact: true }).fill(`${new URL(page.url()).origin}/api/service/`)
    await dialog.getByLabel(/speaks OData/).check()
    await dialog.getByRole('button', { name: 'Look what it holds' }).click()
    await dialog.getByRole('button', { name: 'Open them' }).click()
    await page.waitForURL(/grid/)
    await expect(workshop.readout).toContainText(`${ROWS} rows`)

    await workshop.openPanel('Source')
    await expect(workshop.panel).toContainText('/api/service/sightings')
    const here = workshop.panel.getByText('rows that pass are here')
    await expect(here).toHaveCount(0)
    // Many at once come column by column.
    const streams: string[] = []
    page.on('response', response => {
      if (response.headers()['content-type']?.startsWith('application/vnd.apache.arrow'))
        streams.push(response.url())
    })
    await page.getByRole('searchbox', { name: 'Search rows' }).fill('orchid')
    await expect(workshop.readout).toContainText(`of ${ROWS} rows`)
    await page.getByRole('searchbox', { name: 'Search rows' }).fill('meadow rattle nether carr doubtful')
    await expect(here).toBeVisible()
    const asked: string[] = []
    page.on('request', request => {
      // What a column holds is asked of all rows.
      if (request.url().includes('$skip')) asked.push(request.url())
    })
    const passing = await workshop.readout.textContent()
    expect(streams).toHaveLength(1)
    // Ordered here: nobody is asked.
    await page.getByRole('columnheader', { name: 'Site' }).click()
    await expect(page.getByRole('columnheader', { name: 'Site' })).toHaveAttribute('aria-sort', 'ascending')
    await expect(rows(workshop).first()).toContainText('Carr')
    expect(asked).toEqual([])
    expect(await workshop.readout.textContent()).toBe(passing)
    await page.getByRole('searchbox', { name: 'Search rows' }).fill('')
    await expect(workshop.readout).toContainText(`${ROWS} rows`)
    expect(asked.length).toBeGreaterThan(0)
  })

  test('are done more with than the service can, where the builder allows it and few of them pass', async ({
    page,
  }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    await workshop.openPanel('Source')
    await workshop.panel.getByText('What is not offered').click()
    await expect(workshop.panel).toContainText('the other groups as one')
    const more = workshop.panel.getByLabel('It also does with them')
    await expect(more).toBeChecked()
    await more.uncheck()
    await expect(more).not.toBeChecked()
    await more.check()
    await expect(workshop.readout).toContainText(`${ROWS} rows`)
    const search = page.getByRole('searchbox', { name: 'Search rows' })
    await search.fill('meadow rattle nether carr doubtful')
    await expect(workshop.panel.getByText('rows that pass are here')).toBeVisible()

    // No service makes one group of those that are not kept.
    await page.getByRole('columnheader', { name: 'Seen on' }).focus()
    await page.keyboard.press('Alt+ArrowDown')
    await page.getByRole('dialog').getByRole('button', { name: 'Group by this' }).click()
    await page.keyboard.press('Escape')
    await workshop.openPanel('Groups')
    await workshop.panel.getByText('Keep only some groups').click()
    const count = workshop.panel.getByLabel('how many')
    await count.fill('2')
    await count.press('Enter')
    await expect(workshop.readout).toContainText('2 groups')
    await workshop.panel.getByLabel('the others as one group').check()
    await expect(workshop.readout).toContainText('3 groups')
    const lines = rows(workshop)
    const shown = await lines.first().textContent()

    // Of all rows the page cannot: it says so, and shows what it showed.
    await search.fill('')
    await expect(workshop.readout).toContainText('Narrow them first')
    await expect(workshop.readout).toContainText('200,000 rows are more than the 5,000')
    expect(await lines.first().textContent()).toBe(shown)
    await search.fill('meadow rattle nether carr doubtful')
    await expect(workshop.readout).toContainText('3 groups')
    await expect(workshop.readout.getByText('Narrow them first')).toBeHidden()
    await workshop.openPanel('Ship')
    expect(await workshop.handedFile('grid.json')).toContain('"more": true')
  })

  test('are kept in groups by what these come to, which the service says', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    await page.getByRole('columnheader', { name: 'State' }).focus()
    await page.keyboard.press('Alt+ArrowDown')
    await page.getByRole('dialog').getByRole('button', { name: 'Group by this' }).click()
    await page.keyboard.press('Escape')
    await workshop.openPanel('Groups')
    const counts = page.locator('.body .row.group:visible small')
    await workshop.panel.getByRole('button', { name: 'Close all' }).click()
    await expect(counts.nth(3)).toContainText('rows')
    const sizes = (await counts.allTextContents()).map(text => Number(text.replace(/\D/g, '')))
    const greatest = sizes.sort((a, b) => b - a).slice(0, 2)
    await workshop.panel.getByText('Keep only some groups').click()
    await expect(workshop.panel.getByLabel('the others as one group')).toHaveCount(0)
    const count = workshop.panel.getByLabel('how many')
    await count.fill('2')
    await count.press('Enter')
    await expect(workshop.readout).toContainText('2 groups')
    const passing = greatest.reduce((sum, size) => sum + size, 0).toLocaleString('en-GB')
    await expect(workshop.readout).toContainText(`${passing} of ${ROWS} rows`)
    await expect(counts).toHaveCount(2)
    // What all of them come to is of those that are kept.
    await expect(page.locator('.row.totals:visible').first()).toContainText(passing)
  })

  test('that a service lists in a way of its own are opened by what is said of it', async ({ page }) => {
    const workshop = new Workshop(page)
    await page.goto('/')
    await page.getByRole('button', { name: 'From an address' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel(/lists rows in a way/).check()
    await dialog.getByRole('button', { name: 'Take its address' }).click()
    await dialog.getByRole('button', { name: 'Look what it holds' }).click()
    await expect(dialog.getByLabel('Rows are at (JSON Pointer)')).toHaveValue('/result/rows')
    await expect(dialog.getByRole('status')).toContainText('It lists 2,000 rows.')
    await expect(dialog.getByRole('status')).toContainText('Withy Bed')
    const pointer = dialog.getByLabel('Total is at (pointer or header)')
    await pointer.fill('/nowhere')
    await pointer.press('Tab')
    await expect(dialog.getByRole('status')).toContainText('does not say how many there are')
    await pointer.fill('/counts/total')
    await pointer.press('Tab')
    await expect(dialog.getByRole('status')).toContainText('It lists 2,000 rows.')
    await dialog.getByRole('button', { name: 'Open them' }).click()
    await page.waitForURL(/grid/)
    await expect(workshop.readout).toContainText('2,000 rows')
    await workshop.openPanel('Source')
    await expect(workshop.panel).toContainText('All 2000 rows were fetched')
    await workshop.openPanel('Ship')
    expect(await workshop.handedFile('grid.json')).toContain('"kind": "listing"')
    await page.reload()
    await expect(workshop.readout).toContainText('2,000 rows')
  })

  test('that a service lists are narrowed by the parameters that it takes, as it is told', async ({
    page,
  }) => {
    const workshop = new Workshop(page)
    await page.goto('/')
    await page.getByRole('button', { name: 'From an address' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel(/lists rows in a way/).check()
    await dialog.getByRole('button', { name: 'Take its address' }).click()
    await dialog.getByRole('button', { name: 'Look what it holds' }).click()
    await expect(dialog.getByRole('status')).toContainText('It lists 2,000 rows.')
    // Too many to be fetched: the service is to narrow them by itself.
    const near = dialog.getByLabel('Rows fetched at most')
    await near.fill('0')
    await near.press('Tab')
    await dialog.getByRole('button', { name: 'Add a parameter' }).click()
    // The field of a select lies over its input, and is what a person hits.
    await dialog.getByRole('combobox', { name: 'Field', exact: true }).click({ force: true })
    await page.getByRole('option', { name: 'state', exact: true }).click()
    const parameter = dialog.getByLabel('Parameter', { exact: true })
    await parameter.fill('state')
    await parameter.press('Tab')
    await dialog.getByRole('button', { name: 'Open them' }).click()
    await page.waitForURL(/grid/)
    await expect(workshop.readout).toContainText('2,000 rows')
    const asked = page.waitForRequest(/[?&]state=seen/)
    await page.getByRole('columnheader', { name: 'State' }).focus()
    await page.keyboard.press('Alt+ArrowDown')
    await page.getByRole('dialog', { name: 'State' }).getByLabel('As a phrase').fill('= seen')
    await asked
    await expect(workshop.readout).toContainText(/of 2,000 rows/)
    await page.keyboard.press('Escape')
    await workshop.openPanel('Ship')
    expect(await workshop.handedFile('grid.json')).toMatch(/"equals": "state"/)
  })

  test('are shown before it is known how many pass, where that takes long to count', async ({ page }) => {
    const workshop = new Workshop(page)
    let counted = (): void => {}
    const waiting = new Promise<void>(resolve => (counted = resolve))
    await page.route(
      url => url.pathname.endsWith('/$count') && url.search.length > 1,
      async route => {
        await waiting
        await route.continue().catch(() => {})
      },
    )
    await workshop.openDemo(DEMO)
    await expect(workshop.readout).toContainText(`${ROWS} rows`)
    for (const lift of await page.locator('.trail .lift').all()) await lift.click()
    await expect(page.locator('.trail .lift')).toHaveCount(0)
    await page.getByRole('searchbox', { name: 'Search rows' }).fill('meadow')
    await expect(workshop.readout).toContainText(`at least 384 of ${ROWS} rows`)
    await expect(workshop.page.locator('.flow .stage', { hasText: 'Conditions' })).toContainText('≥ 384')
    await expect(page.getByRole('grid')).toHaveAttribute('aria-rowcount', '-1')
    await expect(rows(workshop).first()).toContainText('eadow')
    await page.getByRole('button', { name: 'charts' }).click()
    await expect(page.getByText(/^\d+ asked, /)).toBeVisible()
    counted()
    await expect(workshop.readout).not.toContainText('at least')
    const passing = Number(
      (/([\d,]+) of/.exec((await workshop.readout.textContent()) ?? '')?.[1] ?? '').replaceAll(',', ''),
    )
    expect(passing).toBeGreaterThan(1000)
    await scrollTo(workshop, 1)
    await expect(rows(workshop).last()).toHaveText(/\w/)
  })

  test('never show one row in the place of another, however one travels', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    // They come in the order of their numbers, so that a row says by itself where it must stand.
    await rows(workshop).first().locator('[role=gridcell]').nth(2).click()
    await page.keyboard.press('End')
    await expect(rows(workshop).first().locator('[role=gridcell]:visible').last()).toHaveText('100001')
    const top = Number(await rows(workshop).first().getAttribute('aria-rowindex'))
    const wrong: string[] = []
    for (const share of [0.5, 0.999, 0.25, 0.26, 0, 0.75]) {
      await scrollTo(workshop, share)
      for (let looked = 0; looked < 5; looked++) {
        const seen = await rows(workshop).evaluateAll(lines =>
          lines.map(line => [
            Number(line.getAttribute('aria-rowindex')),
            [...line.querySelectorAll('[role=gridcell]:not([hidden])')].at(-1)?.textContent ?? '',
          ]),
        )
        for (const [index, text] of seen)
          if (text !== '' && Number(text) !== 100_001 + Number(index) - top)
            wrong.push(`${text} on line ${index}`)
        await page.waitForTimeout(30)
      }
      await expect(rows(workshop).nth(4).locator('[role=gridcell]:visible').last()).not.toBeEmpty()
    }
    expect(wrong).toEqual([])
  })

  test('are told of when the line fails, and come when it is back', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    await workshop.openPanel('Source')
    const down = workshop.panel.getByLabel('Nothing comes through')
    await down.check()
    await scrollTo(workshop, 0.5)
    const notice = workshop.readout.locator('.notice:visible')
    await expect(notice).toContainText('could not be reached')
    await expect(notice).toContainText('asked again')
    await down.uncheck()
    await expect(notice).toBeHidden()
    await expect(rows(workshop).first().locator('[role=gridcell]').nth(1)).not.toBeEmpty()
  })

  test('are changed there, and others see it without asking', async ({ page, context }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    const other = new Workshop(await context.newPage())
    await other.openDemo(DEMO)
    const cover = (of: Workshop): Locator => rows(of).first().locator('[role=gridcell]:visible').nth(5)
    await expect(cover(other)).toHaveText(/^[\d.]+$/)
    const next = ((Number(await cover(other).textContent()) + 1) % 100).toFixed(2)
    await cover(workshop).click()
    await page.keyboard.type(next)
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Save all' }).click()
    await expect(workshop.readout).toContainText('1 row saved')
    await expect(cover(workshop)).toHaveText(next)
    await expect(cover(other)).toHaveText(next)
    // It is there, not here.
    await page.reload()
    await workshop.ready()
    await expect(cover(workshop)).toHaveText(next)
  })

  test('keep what is selected over another order', async ({ page }) => {
    const workshop = new Workshop(page)
    await workshop.openDemo(DEMO)
    await expect(rows(workshop).nth(3).locator('[role=gridcell]').nth(1)).not.toBeEmpty()
    for (const nth of [0, 3]) await rows(workshop).nth(nth).getByRole('checkbox').check()
    await expect(workshop.readout).toContainText('2 selected')
    await page.getByRole('columnheader', { name: 'Species' }).click()
    await expect(workshop.readout).toContainText('2 selected')
    await page.getByRole('columnheader').getByRole('checkbox').click()
    await expect(workshop.readout).toContainText(`${ROWS} selected`)
  })
})
