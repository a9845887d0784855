import { expect, test } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { violations } from '../support/axe.ts'
import { Workshop } from '../support/workshop.ts'

for (const dark of [false, true]) {
  // The light pages show what roles and names are wrong; the dark ones add their contrasts.
  test.describe(dark ? 'dark' : 'light', dark ? ALL : {}, () => {
    test.beforeEach(async ({ page }) => {
      await page.addInitScript(dark => localStorage.setItem('vast-meadow-dark', dark ? 'yes' : 'no'), dark)
    })

    test('axe finds nothing on the shelf', async ({ page }) => {
      await new Workshop(page).openDemo('Seed library')
      await page.waitForTimeout(800)
      await page.goto('/')
      await expect(page.getByRole('link', { name: 'Seed library' })).toBeVisible()
      expect(await violations(page)).toEqual([])
    })

    test('axe finds nothing in the ways to bring rows in, in findings, and in Use', ALL, async ({ page }) => {
      const workshop = new Workshop(page)
      await page.goto('/')
      for (const title of ['Paste rows', 'From an address', 'Make rows up']) {
        await page.getByRole('button', { name: title }).click()
        await expect(page.getByRole('dialog')).toBeVisible()
        await page.waitForTimeout(500)
        expect(await violations(page), title).toEqual([])
        await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click()
        await expect(page.getByRole('dialog')).toBeHidden()
      }
      await workshop.openFile('a.csv', `n,d,x\n${'1,03/04/2024,a\n'.repeat(12)}no,05/06/2024,b\n`)
      await workshop.ready()
      await page.waitForTimeout(800)
      expect(await violations(page), 'Source of a file').toEqual([])
      await page.getByRole('button', { name: /finding/ }).click()
      expect(await violations(page), 'Findings').toEqual([])
      await page.getByRole('button', { name: 'Use', exact: true }).click()
      await page.waitForTimeout(300)
      expect(await violations(page), 'Use').toEqual([])
      const definition = { format: 'vast-meadow-grid', version: 3, columns: [{ key: 'a', title: 'A' }] }
      await workshop.openFile('a.grid.json', JSON.stringify(definition))
      await expect(page.getByText('This grid has no rows yet')).toBeVisible()
      expect(await violations(page), 'no rows yet').toEqual([])
    })

    test('axe finds nothing in the workshop, whatever panel is open', async ({ page }) => {
      const workshop = new Workshop(page)
      await workshop.openDemo('Survey sightings', 10_000)
      for (const title of [
        'Source',
        'Columns',
        'Search',
        'Conditions',
        'Order',
        'Groups',
        'Rows',
        'Look',
        'Ship',
      ]) {
        await workshop.openPanel(title)
        if (title === 'Conditions') {
          await workshop.choose('Add a condition on', 'Cover %')
          await workshop.panel.getByRole('textbox', { name: 'from' }).fill('20')
        }
        if (title === 'Order') await workshop.choose('Order by', 'Species')
        if (title === 'Groups') await workshop.choose('Group by', 'Site')
        await page.waitForTimeout(400)
        expect(await violations(page), title).toEqual([])
      }
      await workshop.openPanel('Columns')
      await workshop.panel.getByRole('button', { name: /^Stand/ }).click()
      await expect(workshop.panel.getByLabel('Expression')).toBeVisible()
      await page.waitForTimeout(400)
      expect(await violations(page), 'a column').toEqual([])
    })

    test('axe finds nothing while rows are asked for, and in what tells why', async ({ page }) => {
      const workshop = new Workshop(page)
      await workshop.openDemo('Survey sightings', 10_000)
      await page.getByRole('button', { name: 'charts' }).click()
      await page.getByLabel('Condition on State', { exact: true }).fill('seen, lost')
      await page.getByRole('searchbox', { name: 'Search rows' }).fill('lower')
      await expect(page.locator('.found')).toBeVisible()
      await workshop.header('Cover %').focus()
      await page.keyboard.press('Alt+ArrowDown')
      await expect(page.getByRole('dialog').locator('.bars i').first()).toBeVisible()
      expect(await violations(page), 'card').toEqual([])
      await page.keyboard.press('Escape')
      await page.locator('.body .cell').filter({ hasText: 'Lower' }).first().click({ button: 'right' })
      await expect(page.getByRole('menu')).toBeVisible()
      expect(await violations(page), 'cell menu').toEqual([])
      await page.getByRole('menuitem', { name: 'Why is this here?' }).click()
      await expect(workshop.panel.locator('.outcome')).toBeVisible()
      await page.getByLabel('Condition on Cover %', { exact: true }).fill('many')
      expect(await violations(page), 'trace').toEqual([])
      await page.getByRole('searchbox', { name: 'Search rows' }).fill('lowr')
      await expect(page.locator('.hindering li')).toHaveCount(2)
      expect(await violations(page), 'nothing passes').toEqual([])
    })

    test('axe finds nothing in cells of every kind, in pages, on a card', ALL, async ({ page }) => {
      const workshop = new Workshop(page)
      await workshop.openDemo('Seed library')
      await workshop.openPanel('Look')
      await workshop.panel.getByRole('checkbox', { name: 'Show rows in pages' }).check()
      await page.getByRole('group', { name: 'Frame' }).getByRole('button', { name: 'page' }).click()
      await expect(page.locator('.badge').first()).toBeVisible()
      await page.waitForTimeout(400)
      expect(await violations(page), 'cells').toEqual([])
      await page.locator('.scroller').evaluate(scroller => (scroller.scrollLeft = 4000))
      await page.waitForTimeout(400)
      expect(await violations(page), 'actions').toEqual([])
      await page.getByRole('group', { name: 'Frame' }).getByRole('button', { name: 'card' }).click()
      await page.waitForTimeout(400)
      expect(await violations(page), 'card').toEqual([])
      await page.locator('.scroller').evaluate(scroller => (scroller.scrollLeft = 4000))
      await page.getByRole('button', { name: 'Discard' }).first().click()
      await expect(page.getByRole('dialog')).toBeVisible()
      expect(await violations(page), 'question').toEqual([])
    })
  })
}

test('a row is read whole and in column order, at rest also after scrolling both ways', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  const order = async (): Promise<void> => {
    const rows = await workshop.grid.evaluate(view =>
      [...view.querySelectorAll('.body [role=row]')]
        .filter(row => row.checkVisibility())
        .map(row => ({
          index: Number(row.ariaRowIndex),
          columns: [...row.querySelectorAll('[role=gridcell]')]
            .filter(c => c.checkVisibility())
            .map(c => Number(c.ariaColIndex)),
        })),
    )
    expect(rows.length).toBeGreaterThan(10)
    rows.forEach((row, i) => {
      expect(row.index).toBe(rows[0]!.index + i)
      expect(row.columns).toEqual([...row.columns].sort((a, b) => a - b))
      expect(new Set(row.columns).size).toBe(row.columns.length)
    })
  }
  await order()
  await page.locator('.body .cell').nth(3).hover()
  for (const [x, y] of [
    [0, 700],
    [900, 0],
    [-300, -270],
  ]) {
    await page.mouse.wheel(x!, y!)
    await page.waitForTimeout(600)
    await order()
  }
  const tree = await workshop.grid.ariaSnapshot()
  expect(tree).toMatch(/- grid/)
  const row = page.locator('.body [role=row]:visible').first()
  const cells = await row.ariaSnapshot()
  expect(cells.split('\n')[0]).toMatch(/^- row/)
  expect((cells.match(/gridcell/g) ?? []).length).toBeGreaterThan(5)
})

test('the name of a group is read before what its columns come to', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000, true)
  const head = workshop.grid.locator('.body [role=row].group:visible').first()
  await expect(head.locator('.cell.summary:visible').first()).not.toBeEmpty()
  const read = await head.evaluate(row =>
    [...row.querySelectorAll('[role=gridcell]')]
      .filter(cell => cell.checkVisibility({ visibilityProperty: true }))
      .map(cell => ({ isName: cell.matches('.groupcell'), place: Number(cell.ariaColIndex) })),
  )
  const name = read.findIndex(cell => cell.isName)
  expect(read.slice(0, name).every(cell => cell.place < read[name]!.place)).toBe(true)
  expect(read.slice(name + 1).every(cell => cell.place > read[name]!.place)).toBe(true)
  expect(read[name]!.place).toBeGreaterThan(0)
})

test('the row of the keyboard is seen to have the focus, and stays in view when there is less room', async ({
  page,
}) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Survey sightings', 10_000)
  const rows = workshop.grid.locator('.body .row:visible')
  const lowest = rows.nth((await rows.count()) - 2)
  await lowest.locator('.cell:visible').nth(2).click()
  // Pressed together with others, a key is no sign to the browser.
  await page.keyboard.press('Control+ArrowRight')
  const focused = workshop.grid.locator('.body .cell:focus')
  await expect(focused).not.toHaveCSS('box-shadow', 'none')
  await page.keyboard.press('ArrowLeft')
  const before = await focused.textContent()
  await page.setViewportSize({ width: 1280, height: 560 })
  const bottom = async (): Promise<number> => {
    const [cell, foot] = [await focused.boundingBox(), await workshop.grid.locator('.totals').boundingBox()]
    return (cell?.y ?? 0) + (cell?.height ?? 0) - (foot?.y ?? 0)
  }
  await expect.poll(bottom).toBeLessThanOrEqual(1)
  expect(await focused.textContent()).toBe(before)
  // Who has scrolled on is not taken back to it.
  const scroller = page.locator('.scroller')
  await scroller.evaluate(element => element.scrollBy(0, 4000))
  await expect(focused).not.toBeInViewport()
  const at = await scroller.evaluate(element => element.scrollTop)
  await page.setViewportSize({ width: 1280, height: 480 })
  await page.waitForTimeout(500)
  expect(await scroller.evaluate(element => element.scrollTop)).toBe(at)
})

test('one tab stop leads into the grid and one out of it', async ({ page }) => {
  const workshop = new Workshop(page)
  await workshop.openDemo('Seed library')
  await page.getByRole('button', { name: 'Print', exact: true }).focus()
  await page.keyboard.press('Tab')
  await expect(workshop.grid.locator('.cell:focus')).toHaveCount(1)
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.body .cell:focus')).toHaveCount(1)
  await page.keyboard.press('Tab')
  await expect(workshop.grid.locator(':focus')).toHaveCount(0)
})
