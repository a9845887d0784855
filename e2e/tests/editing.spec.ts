import { expect, test, type Locator, type Page } from '@playwright/test'
import { mountBare, serveStatic, type Served } from '../support/bare-page.ts'

// Cells are typed into, checked, taken back, saved and refused; rows are new and go; others change them underneath.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const KINDS = ['ash', 'elm', 'oak', 'yew']
const ROWS = Array.from({ length: 400 }, (_, id) => ({
  id,
  name: `tree ${String(id).padStart(3, '0')}`,
  kind: KINDS[id % 4],
  height: (id * 37) % 200,
  planted: `20${10 + (id % 10)}-0${1 + (id % 9)}-1${id % 9}`,
  alive: id % 3 === 0,
  locked: id % 10 === 9,
}))
const column = (key: string, edit?: object): object => ({
  key,
  title: key[0]!.toUpperCase() + key.slice(1),
  width: 130,
  ...(edit && { edit }),
})
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'id',
  columns: [
    column('id'),
    column('name', { required: true, unique: true, longest: 12 }),
    column('kind', { choices: KINDS }),
    column('height', { least: 0, most: 300, when: '!locked' }),
    column('planted', { most: '2026-01-01' }),
    column('alive', {}),
    column('locked'),
  ],
  editing: { newRows: 'head', remove: true },
}
const mount = (page: Page, more: object = {}, options: object = {}): Promise<void> =>
  mountBare(page, served.url, { rows: ROWS, definition: { ...DEFINITION, ...more }, ...options })

interface Handle {
  readonly pendingCounts: Record<string, number>
  changes(): { changed: { key: unknown; before: object; after: object }[]; added: object[]; removed: object[]; notValid: object[] }
  setCell(key: unknown, column: string, value: unknown): Promise<void>
  addRow(values?: object): Promise<string>
  saveChanges(): Promise<void>
  discardChanges(): void
  commit(changes: object): Promise<unknown>
  arrange(change: object): void
  undo(): boolean
  redo(): boolean
  on(name: string, listener: (event: never) => void): void
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of})(window.handle)`)
const cell = (page: Page, line: number, nth: number): Locator =>
  page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(nth)
const editor = (page: Page): Locator => page.locator('.edit-field')
const changed = (page: Page) => handle(page, grid => grid.changes().changed)

test('what is typed into a cell is shown, counted, told and taken back', async ({ page }) => {
  await mount(page)
  await cell(page, 0, 1).click()
  await page.keyboard.type('Old oak')
  await expect(editor(page)).toHaveValue('Old oak')
  await page.keyboard.press('Enter')
  await expect(cell(page, 0, 1)).toHaveText('Old oak')
  await expect(cell(page, 0, 1)).toHaveClass(/changed/)
  await expect(cell(page, 1, 1)).toBeFocused()
  await expect(page.locator('.pending-changes')).toContainText('1 change')
  expect(await changed(page)).toEqual([{ key: 0, before: { name: 'tree 000' }, after: { name: 'Old oak' } }])
  await page.keyboard.press('Control+z')
  await expect(cell(page, 0, 1)).toHaveText('tree 000')
  await expect(page.locator('.pending-changes')).toBeHidden()
  await page.keyboard.press('Control+Shift+z')
  await expect(cell(page, 0, 1)).toHaveText('Old oak')
})
