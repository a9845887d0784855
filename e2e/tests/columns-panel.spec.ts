import { expect, test, type Page } from '@playwright/test'
import { Workshop } from '../support/workshop'

const CSV = [
  'key,name,state,cover,count',
  ...Array.from({ length: 60 }, (_, i) => `${i},name ${i % 9},seen,${i % 40},${i}`),
].join('\n')

async function open(page: Page): Promise<Workshop> {
  const workshop = new Workshop(page)
  await workshop.openFile('plots.csv', CSV)
  await workshop.ready()
  await workshop.openPanel('Columns')
  return workshop
}
const titles = (workshop: Workshop): Promise<string[]> =>
  workshop.panel.locator('.columns .item .title').allTextContents()
/** Titles of columns in the grid, from start to end. */
const shown = (page: Page): Promise<string[]> =>
  page
    .locator('.head .row:not(.shared):not(.strip) .cell[data-column]:not([data-column=""])')
    .evaluateAll(cells =>
      cells
        .filter(cell => cell.checkVisibility())
        .sort((a, b) => a.getBoundingClientRect().left - b.getBoundingClientRect().left)
        .map(cell => cell.querySelector('.title')?.textContent ?? ''),
    )

test('the list and the grid are one: a drag in either shows in both', async ({ page }) => {
  const workshop = await open(page)
  const { panel } = workshop
  await panel.getByRole('button', { name: 'Move Cover: drag, or arrow up and down' }).focus()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect.poll(() => shown(page)).toEqual(['Key', 'Cover', 'Name', 'State', 'Count'])
  await expect.poll(() => titles(workshop)).toEqual(['Key', 'Cover', 'Name', 'State', 'Count'])
  // By pointer, down the list.
  const [from, to] = await Promise.all(
    ['Key', 'State'].map(
      async title =>
        (await panel
          .getByRole('button', { name: `Move ${title}: drag, or arrow up and down` })
          .boundingBox())!,
    ),
  )
  await page.mouse.move(from!.x + 6, from!.y + 8)
  await page.mouse.down()
  await page.mouse.move(to!.x + 6, to!.y + 8, { steps: 6 })
  await page.mouse.up()
  await expect.poll(() => shown(page)).toEqual(['Cover', 'Name', 'State', 'Key', 'Count'])
  // And in the grid.
  const [grid, over] = [
    (await workshop.header('Count').boundingBox())!,
    (await workshop.header('Cover').boundingBox())!,
  ]
  await page.mouse.move(grid.x + 20, grid.y + 15)
  await page.mouse.down()
  await page.mouse.move(over.x + 5, over.y + 15, { steps: 6 })
  await page.mouse.up()
  await expect.poll(() => titles(workshop)).toEqual(['Count', 'Cover', 'Name', 'State', 'Key'])
  await panel.getByRole('button', { name: 'end: pin Cover there' }).click()
  await expect.poll(() => shown(page)).toEqual(['Count', 'Name', 'State', 'Key', 'Cover'])
  await page.locator('button[title^="Undo"]').click()
  await expect.poll(() => shown(page)).toEqual(['Count', 'Cover', 'Name', 'State', 'Key'])
})

test('a shared heading is made of picked columns, named in the list, kept together and taken out', async ({
  page,
}) => {
  const workshop = await open(page)
  const { panel } = workshop
  await panel.getByRole('button', { name: 'Change several' }).click()
  for (const title of ['Cover', 'Count']) await panel.getByRole('checkbox', { name: `Pick ${title}` }).check()
  await panel.getByLabel('Heading over them; empty: none').fill('What is there')
  await panel.getByRole('button', { name: 'Put under' }).click()
  const heading = (title: string) => page.locator('.head .shared .cell', { hasText: title })
  await expect(heading('What is there')).toBeVisible()
  await panel.getByRole('button', { name: 'Pin at the end' }).click()
  await expect.poll(() => shown(page)).toEqual(['Key', 'Name', 'State', 'Cover', 'Count'])
  await panel.getByLabel('Share of the room of each').fill('1')
  await page.keyboard.press('Tab')
  await expect.poll(async () => (await workshop.header('Cover').boundingBox())!.width).toBeGreaterThan(100)
  await panel.getByRole('button', { name: 'Shared heading What is there' }).click()
  await panel.getByRole('textbox', { name: 'Heading', exact: true }).fill('Measures')
  await page.keyboard.press('Tab')
  await expect(heading('Measures')).toBeVisible()
  await panel.getByRole('checkbox', { name: 'Its columns stay together' }).check()
  // What stays together for readers does so here.
  await workshop.header('Cover').focus()
  await page.keyboard.press('Control+Shift+ArrowLeft')
  await expect(
    page.getByRole('status').filter({ hasText: 'The columns under Measures stay together.' }),
  ).toHaveCount(1)
  await panel.getByRole('button', { name: 'Take the heading out' }).click()
  await expect(page.locator('.head .shared')).toHaveCount(0)
})

test('what a reader arranged is looked at in Use, put back point by point, and taken as the start', async ({
  page,
}) => {
  const workshop = await open(page)
  await workshop.panel
    .getByRole('checkbox', { name: 'take back what they did by buttons in the bar' })
    .check()
  await workshop.panel.getByRole('checkbox', { name: 'keep arrangements by name, and share them' }).check()
  await workshop.header('Name').click()
  await page.getByRole('button', { name: 'Use', exact: true }).click()
  // Here the keys are the reader's: what was built is not taken back.
  await workshop.header('Count').click()
  await expect(workshop.header('Count')).toHaveAttribute('aria-sort', 'ascending')
  await page.keyboard.press('Control+z')
  await expect(workshop.header('Name')).toHaveAttribute('aria-sort', 'ascending')
  await page.keyboard.press('Control+z')
  await expect(workshop.header('Name')).toHaveAttribute('aria-sort', 'ascending')
  await page.keyboard.press('Control+Shift+z')
  await expect(workshop.header('Count')).toHaveAttribute('aria-sort', 'ascending')
  await workshop.header('State').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await page.getByRole('button', { name: 'Hide', exact: true }).click()
  await page.getByRole('button', { name: 'What differs (2)' }).click()
  await expect(page.getByText('State is hidden', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Put back: Ordered by Count ascending', exact: true }).click()
  await expect(workshop.header('Name')).toHaveAttribute('aria-sort', 'ascending')
  await page.keyboard.press('Escape')
  // The grid's own list says the same.
  await page.getByRole('button', { name: 'Arrangement', exact: true }).click()
  await expect(page.locator('.arrangements li span')).toHaveText(['State is hidden'])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Take this as the start' }).click()
  await page.getByRole('button', { name: 'Build', exact: true }).click()
  await expect(workshop.header('State')).toHaveCount(0)
})
