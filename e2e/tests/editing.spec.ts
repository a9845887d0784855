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
  mountBare(page, served.url, {
    rows: ROWS,
    definition: { ...DEFINITION, ...more },
    savesBy: 'saver',
    ...options,
  })

interface Handle {
  readonly pendingCounts: Record<string, number>
  changes(): {
    changed: { key: unknown; before: object; after: object }[]
    added: object[]
    removed: object[]
    notValid: object[]
  }
  setCell(key: unknown, column: string, value: unknown): Promise<void>
  addRow(values?: object): Promise<string>
  saveChanges(): Promise<void>
  discardChanges(): void
  commit(changes: object): Promise<unknown>
  arrange(change: object): void
  goToLine(nth: number): boolean
  undo(): boolean
  redo(): boolean
  on(name: string, listener: (event: never) => void): void
}
const handle = <T>(page: Page, of: (handle: Handle) => T): Promise<Awaited<T>> =>
  page.evaluate(`(${of})(window.handle)`)
const cell = (page: Page, line: number, nth: number): Locator =>
  page.locator(`.body .row[aria-rowindex="${line + 2}"] .cell:not(:has(> .box))`).nth(nth)
const editor = (page: Page): Locator => page.locator('.edit-field')
/** Types into a cell and ends with a key. */
async function type(page: Page, line: number, nth: number, text: string, end: string): Promise<void> {
  await cell(page, line, nth).click()
  await page.keyboard.type(text)
  await page.keyboard.press(end)
}
/** What a sheet puts on the clipboard, pasted where the keyboard is. */
const paste = (page: Page, text: string): Promise<void> =>
  page.evaluate(given => {
    const data = new DataTransfer()
    data.setData('text/plain', given)
    const target = document.querySelector('#grid')!.shadowRoot!.activeElement!
    target.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    )
  }, text)
interface Changes {
  readonly changed: readonly { readonly key: unknown }[]
  readonly added: readonly { readonly name: string }[]
  readonly removed: readonly unknown[]
}
/** What the page does with changes that are to be saved. */
const saveBy = (page: Page, save: (list: Changes) => unknown): Promise<void> =>
  page.evaluate(`window.saver = ${save}`)
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

test('a text that is no value stays in its cell with its message, and keeps nothing else from being saved', async ({
  page,
}) => {
  await mount(page)
  await type(page, 0, 4, 'some day', 'Enter')
  await expect(cell(page, 0, 4)).toHaveText('some day')
  await expect(cell(page, 0, 4)).toHaveClass(/wrong/)
  await expect(cell(page, 0, 4)).toHaveAttribute('aria-invalid', 'true')
  await expect(cell(page, 0, 4)).toHaveAttribute('aria-description', /is not a day.*Before: 2010-01-10/)
  await type(page, 1, 3, '12', 'Enter')
  await type(page, 2, 3, '999', 'Enter')
  await expect(page.locator('.pending-changes')).toContainText('3 changes')
  await expect(page.locator('.wrong-count')).toHaveText('2 not right')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.pending-changes')).toContainText('2 changes')
  await expect(cell(page, 1, 3)).toHaveText('12')
  await expect(cell(page, 1, 3)).not.toHaveClass(/changed/)
  await expect(cell(page, 0, 4)).toHaveText('some day')
  // Scrolled away and ordered otherwise, it is there still.
  await handle(page, grid => grid.arrange({ order: [{ column: 'name', direction: 'descending' }] }))
  await expect(cell(page, 0, 0)).toHaveText('399')
  await handle(page, grid => grid.arrange({ order: [] }))
  await expect(cell(page, 0, 4)).toHaveText('some day')
})

test('keys go on as in a sheet: Enter, Tab, Escape, arrows, Delete', async ({ page }) => {
  await mount(page)
  await cell(page, 1, 1).click()
  await page.keyboard.press('F2')
  await expect(editor(page)).toHaveValue('tree 001')
  // Within a text that was opened, arrows move in it.
  await page.keyboard.press('ArrowLeft')
  await expect(editor(page)).toBeFocused()
  await page.keyboard.type('x')
  await page.keyboard.press('Escape')
  await expect(cell(page, 1, 1)).toHaveText('tree 001')
  await expect(cell(page, 1, 1)).toBeFocused()
  await page.keyboard.type('ab')
  await page.keyboard.press('ArrowDown')
  await expect(cell(page, 1, 1)).toHaveText('ab')
  await expect(cell(page, 2, 1)).toBeFocused()
  await page.keyboard.type('cd')
  await page.keyboard.press('Shift+Tab')
  await expect(cell(page, 2, 1)).toHaveText('cd')
  await expect(cell(page, 2, 0)).toBeFocused()
  // A column that cannot be changed takes no letters for itself.
  await page.keyboard.type('5')
  await expect(editor(page)).toHaveCount(0)
  await cell(page, 3, 1).click()
  await page.keyboard.press('Delete')
  await expect(cell(page, 3, 1)).toHaveText('')
  await expect(cell(page, 3, 1)).toHaveClass(/wrong/)
  // Locked rows say so instead of opening.
  await cell(page, 9, 3).click()
  await page.keyboard.press('Enter')
  await expect(editor(page)).toHaveCount(0)
  await expect(page.locator('.quiet')).toContainText('cannot be changed in this row')
})

test('a choice is picked by typing, by arrows and by pointer', async ({ page }) => {
  await mount(page)
  await cell(page, 0, 2).click()
  await page.keyboard.type('y')
  await expect(page.locator('.choice')).toHaveText(['yew'])
  await page.keyboard.press('Enter')
  await expect(cell(page, 0, 2)).toHaveText('yew')
  await cell(page, 1, 2).dblclick()
  await expect(page.locator('.choice')).toHaveCount(4)
  await page.locator('.choice', { hasText: 'oak' }).click()
  await expect(cell(page, 1, 2)).toHaveText('oak')
  await cell(page, 2, 5).dblclick()
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.choice[aria-selected="true"]')).toHaveCount(1)
  await page.keyboard.press('Enter')
  await type(page, 3, 2, 'fir', 'Escape')
  await page.keyboard.press('Escape')
  await expect(cell(page, 3, 2)).toHaveText('yew')
  await type(page, 4, 2, 'fir', 'Enter')
  await expect(cell(page, 4, 2)).toHaveClass(/wrong/)
})

test('choices go by what the row has, or are fetched', async ({ page }) => {
  const columns = DEFINITION.columns.map((one, nth) => {
    if (nth === 3) return { ...one, edit: { choices: { of: 'height', like: ['kind'] } } }
    return nth === 1 ? { ...one, edit: { choices: { own: 'names' } } } : one
  })
  await page.addInitScript(() => {
    Object.assign(window, {
      names: async ({ search, values }: { search: string; values: { kind: string } }) =>
        await new Promise(done => setTimeout(() => done([`${values.kind} ${search}`]), 60)),
    })
  })
  await mount(page, { columns }, { choosesBy: 'names' })
  await cell(page, 1, 3).dblclick()
  const offered = page.locator('.choice')
  await expect(offered.first()).toBeVisible()
  const heights = ROWS.filter(({ kind }) => kind === 'elm').map(({ height }) => String(height))
  for (const text of await offered.allTextContents()) expect(heights).toContain(text)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  // The height of another kind is no choice here, until the kind is that one.
  await type(page, 1, 3, '148', 'Enter')
  await expect(cell(page, 1, 3)).toHaveAttribute('aria-description', /none of the choices beside this “Kind”/)
  await type(page, 1, 2, 'ash', 'Enter')
  await expect(cell(page, 1, 3)).not.toHaveClass(/wrong/)
  await cell(page, 2, 1).click()
  await page.keyboard.type('x')
  await expect(offered).toHaveText(['oak x'])
  await page.keyboard.type('y')
  await expect(offered).toHaveText(['oak xy'])
  await page.keyboard.press('Enter')
  await expect(cell(page, 2, 1)).toHaveText('oak xy')
})

test('a text is replaced in a column, shown before it is done and taken back as one act', async ({
  page,
}) => {
  await mount(page)
  await type(page, 2, 2, 'yew', 'Enter')
  await cell(page, 0, 2).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Replace in Kind' }).click()
  const dialog = page.getByRole('dialog', { name: 'Replace in Kind' })
  await expect(dialog.getByLabel('Find')).toHaveValue('ash')
  await dialog.getByLabel('Find').fill('YEW')
  await dialog.getByLabel('Put instead').fill('fir')
  // That of the row that is changed already is among them.
  await expect(dialog).toContainText('101 cells will change. 101 will not be right')
  await dialog.getByLabel('Put instead').fill('oak')
  await expect(dialog).toContainText('101 cells will change.')
  await expect(dialog).not.toContainText('not be right')
  await expect(dialog.locator('li').nth(1)).toContainText('yewoak')
  await dialog.getByLabel('Mind capitals').check()
  await expect(dialog).toContainText('No cell holds this.')
  await expect(dialog.getByRole('button', { name: 'Replace' })).toBeDisabled()
  await dialog.getByLabel('Mind capitals').uncheck()
  await expect(dialog).toContainText('101 cells will change.')
  await dialog.getByRole('button', { name: 'Replace' }).click()
  await expect(cell(page, 3, 2)).toHaveText('oak')
  await expect(cell(page, 2, 2)).toHaveText('oak')
  // The changed row that was an oak to begin with is none any more.
  await expect.poll(() => handle(page, grid => grid.pendingCounts.changed)).toBe(100)
  await page.keyboard.press('Control+z')
  await expect(cell(page, 3, 2)).toHaveText('yew')
  await expect(cell(page, 2, 2)).toHaveText('yew')
  await expect.poll(() => handle(page, grid => grid.pendingCounts.changed)).toBe(1)
  // Numbers as they are written, and only those that can be changed.
  await page.getByRole('columnheader', { name: 'Height' }).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Replace in Height' }).click()
  const heights = page.getByRole('dialog', { name: 'Replace in Height' })
  await heights.getByLabel('Find').fill('133')
  await heights.getByLabel('Put instead').fill('13')
  await heights.getByLabel('Only whole cells').check()
  await expect(heights).toContainText('0 cells will change. 2 cannot be changed.')
  await heights.getByLabel('Find').fill('5')
  await heights.getByLabel('Only whole cells').uncheck()
  const found = ROWS.filter(({ height }) => String(height).includes('5'))
  const free = found.filter(({ locked }) => !locked).length
  await expect(heights).toContainText(`${free} cells will change.`)
  await expect(heights).toContainText(`${found.length - free} cannot be changed.`)
  await page.keyboard.press('Escape')
  await expect(heights).toHaveCount(0)
})

test('a block is pasted, with what is beyond the last row offered as new rows, and taken back as one act', async ({
  page,
}) => {
  await mount(page, {}, { rows: ROWS.slice(0, 3) })
  await cell(page, 1, 1).click()
  await paste(page, 'north\tash\t10\r\n"south ""1"""\telm\t20\r\nwest\toak\t30\r\neast\tyew\t40')
  await expect(cell(page, 1, 1)).toHaveText('north')
  await expect(cell(page, 2, 1)).toHaveText('south "1"')
  await expect(cell(page, 2, 3)).toHaveText('20')
  await expect(page.locator('.notice:not([hidden])')).toContainText('2 rows were pasted beyond the last one')
  await page.getByRole('button', { name: 'Add as new rows' }).click()
  await expect(page.locator('.row.new-row')).toHaveCount(2)
  await expect(cell(page, 1, 1)).toHaveText('east')
  expect(await handle(page, grid => grid.pendingCounts)).toMatchObject({ changed: 2, added: 2, cells: 6 })
  await handle(page, grid => grid.undo())
  await expect(page.locator('.row.new-row')).toHaveCount(0)
  await handle(page, grid => grid.undo())
  await expect(page.locator('.pending-changes')).toBeHidden()
  await expect(cell(page, 1, 1)).toHaveText('tree 001')
})

test('ranges are filled, filled down and emptied', async ({ page }) => {
  await mount(page)
  await cell(page, 2, 3).click()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowDown')
  await paste(page, '7')
  for (const line of [2, 3, 4, 5]) await expect(cell(page, line, 3)).toHaveText('7')
  await page.keyboard.press('Delete')
  for (const line of [2, 3, 4, 5]) await expect(cell(page, line, 3)).toHaveText('')
  await handle(page, grid => grid.undo())
  await handle(page, grid => grid.undo())
  await expect(cell(page, 2, 3)).toHaveText('74')
  await cell(page, 2, 3).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Fill down from the first' }).click()
  for (const line of [2, 3, 4, 5]) await expect(cell(page, line, 3)).toHaveText('74')
  // A value typed into a range goes into all of it.
  await page.keyboard.type('9')
  await expect(editor(page)).toHaveValue('9')
  await page.keyboard.press('Control+Enter')
  for (const line of [2, 3, 4, 5]) await expect(cell(page, line, 3)).toHaveText('9')
})

test('rows are new until they are saved, whatever is ordered, and get the key of the answer', async ({
  page,
}) => {
  await mount(page)
  await saveBy(page, list => ({
    rows: list.added.map(({ name }, nth) => ({
      name,
      key: 1000 + nth,
      saved: { id: 1000 + nth, locked: true },
    })),
  }))
  await page.getByRole('button', { name: 'New row' }).click()
  await expect(page.locator('.row.new-row')).toHaveCount(1)
  await page.keyboard.type('Zelkova')
  await page.keyboard.press('Tab')
  await page.keyboard.type('elm')
  await page.keyboard.press('Enter')
  await handle(page, grid => grid.arrange({ order: [{ column: 'name', direction: 'ascending' }] }))
  await expect(cell(page, 0, 1)).toHaveText('Zelkova')
  await expect(cell(page, 1, 1)).toHaveText('tree 000')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.row.new-row')).toHaveCount(0)
  await handle(page, grid => grid.arrange({ order: [{ column: 'id', direction: 'descending' }] }))
  await expect(cell(page, 0, 1)).toHaveText('Zelkova')
  await expect(cell(page, 0, 6)).toHaveText('yes')
})

test('a new row stands in the group that one is in, with its value, whatever is ordered or opened', async ({
  page,
}) => {
  await mount(page, {
    editing: { newRows: 'group', remove: true },
    start: { groups: [{ column: 'kind', bucket: { by: 'value' } }] },
  })
  const lines = (): Promise<string[]> =>
    page.evaluate(() =>
      [...document.querySelector('#grid')!.shadowRoot!.querySelectorAll('.body .row:not([hidden])')]
        .sort((a, b) => Number(a.ariaRowIndex) - Number(b.ariaRowIndex))
        .map(row => `${row.classList.contains('new-row') ? 'new ' : ''}${row.textContent?.slice(0, 24)}`),
    )
  await expect(page.locator('.body .row.group').first()).toBeVisible()
  // Within the second group.
  await handle(page, grid => grid.goToLine(102))
  await page.locator('.body .row:not([hidden]) .cell', { hasText: /^elm$/ }).first().click()
  await page.getByRole('button', { name: 'New row' }).click()
  await expect(page.locator('.row.new-row')).toHaveCount(1)
  await page.keyboard.type('fresh')
  await page.keyboard.press('Enter')
  const below = async (): Promise<string> => {
    const told = await lines()
    return told[told.findIndex(line => line.startsWith('new ')) - 1] ?? ''
  }
  await expect.poll(below).toContain('elm')
  await expect(page.locator('.row.new-row')).toContainText('freshelm')
  await handle(page, grid => grid.arrange({ order: [{ column: 'height', direction: 'descending' }] }))
  await page.waitForTimeout(300)
  await handle(page, grid => grid.goToLine(108))
  await expect(page.locator('.row.new-row')).toHaveCount(1)
  await expect.poll(below).toContain('elm')
  // Without groups it stands at the head.
  await handle(page, grid => grid.arrange({ groups: [] }))
  await expect.poll(async () => (await lines())[0]).toContain('fresh')
})

test('the key of a saved row stays, a new one takes what is typed', async ({ page }) => {
  const columns = DEFINITION.columns.map((one, nth) => (nth === 0 ? { ...one, edit: { unique: true } } : one))
  await mount(page, { columns })
  await cell(page, 0, 0).click()
  await page.keyboard.press('F2')
  await expect(editor(page)).toHaveCount(0)
  await expect(page.locator('.quiet')).toContainText('The key names the row')
  await page.getByRole('button', { name: 'New row' }).click()
  await page.keyboard.type('7')
  await page.keyboard.press('Tab')
  await page.keyboard.type('seventh')
  await page.keyboard.press('Enter')
  await expect(cell(page, 0, 0)).toHaveAttribute('aria-description', /Another row has the same value/)
  await cell(page, 0, 0).click()
  await page.keyboard.type('7000')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.row.new-row')).toHaveCount(0)
  await handle(page, grid => grid.arrange({ order: [{ column: 'id', direction: 'descending' }] }))
  await expect(cell(page, 0, 1)).toHaveText('seventh')
})

test('a new row without what is needed is not saved, and says so', async ({ page }) => {
  await mount(page)
  const name = await handle(page, grid => grid.addRow({ kind: 'ash' }))
  expect(name).toMatch(/^n\d+$/)
  await handle(page, grid => grid.saveChanges())
  await expect(page.locator('.row.new-row .cell.wrong')).toHaveCount(1)
  await expect(page.locator('.wrong-count')).toHaveText('1 not right')
})

test('rows are deleted after a question that names them, and can be kept until they are saved', async ({
  page,
}) => {
  await mount(page)
  const gone: unknown[] = []
  await page.exposeFunction('gone', (list: { removed: unknown[] }) => void gone.push(...list.removed))
  await saveBy(page, list => void (window as unknown as { gone(list: object): void }).gone(list))
  await cell(page, 1, 1).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Delete this row' }).click()
  await expect(page.locator('dialog.confirm')).toContainText('Delete 1?')
  await page.locator('dialog.confirm').getByRole('button', { name: 'Delete' }).click()
  await expect(page.locator('.row.to-go')).toHaveCount(1)
  await cell(page, 1, 1).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Do not delete this row' }).click()
  await expect(page.locator('.row.to-go')).toHaveCount(0)
  await handle(page, grid => grid.undo())
  await expect(page.locator('.row.to-go')).toHaveCount(1)
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(cell(page, 1, 0)).toHaveText('2')
  expect(gone).toEqual([{ key: 1 }])
})

test('what the host refuses stays with its reason; what failed on the way can be tried again', async ({
  page,
}) => {
  await mount(page)
  await saveBy(page, list => ({
    rows: list.changed.map(({ key }) =>
      key === 1
        ? { key, refused: 'the forester says no', fields: { height: 'too high' } }
        : { key, saved: true },
    ),
  }))
  await type(page, 0, 3, '11', 'Enter')
  await type(page, 1, 3, '12', 'Enter')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.notice:not([hidden])')).toContainText('1 row saved, 1 not')
  await expect(cell(page, 1, 3)).toHaveText('12')
  await expect(cell(page, 1, 3)).toHaveAttribute('aria-description', /too high/)
  await expect(page.locator('.row.refused')).toHaveCount(1)
  await expect(cell(page, 0, 3)).not.toHaveClass(/changed/)
  // The line is dead.
  await saveBy(page, () => Promise.reject(new Error('no line')))
  await type(page, 1, 3, '13', 'Enter')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(page.locator('.notice:not([hidden])')).toContainText('Nothing was saved: no line')
  await expect(cell(page, 1, 3)).toHaveText('13')
  await saveBy(page, () => undefined)
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.locator('.pending-changes')).toBeHidden()
  await expect(cell(page, 1, 3)).toHaveText('13')
})

test('a row that others change underneath shows both values, and the reader decides', async ({ page }) => {
  await mount(page)
  await type(page, 0, 1, 'mine', 'Enter')
  await type(page, 1, 3, '5', 'Enter')
  await handle(page, grid =>
    grid.commit({
      update: [
        { id: 0, name: 'theirs' },
        { id: 1, height: 5 },
      ],
    }),
  )
  await expect(page.locator('.wrong-count')).toHaveText('1 conflict')
  await expect(cell(page, 0, 1)).toHaveText('mine')
  await expect(cell(page, 0, 1)).toHaveClass(/conflict/)
  await expect(cell(page, 0, 1)).toHaveAttribute('aria-description', /somebody else meanwhile: theirs/)
  // Who came to the same is not in conflict.
  await expect(cell(page, 1, 3)).not.toHaveClass(/changed/)
  await page.getByRole('button', { name: 'List' }).click()
  await page.getByRole('button', { name: 'Take theirs' }).click()
  await expect(cell(page, 0, 1)).toHaveText('theirs')
  await expect(page.locator('.pending-changes')).toBeHidden()
})

test('a row that no longer fits stays until the reader leaves it, then goes and says where', async ({
  page,
}) => {
  await mount(page, { start: { order: [{ column: 'height', direction: 'ascending' }] } })
  const name = await cell(page, 0, 1).textContent()
  await type(page, 0, 3, '300', 'Tab')
  await expect(cell(page, 0, 3)).toHaveText('300')
  await expect(cell(page, 0, 1)).toHaveText(name!)
  await expect(page.locator('.row.row-stays')).toContainText(name!)
  await expect(page.locator('.pending-here')).toContainText('when you leave it')
  await page.keyboard.press('ArrowDown')
  await expect(cell(page, 0, 1)).not.toHaveText(name!)
  await expect(page.locator('.row.row-stays')).toHaveCount(0)
  await expect(page.locator('.notice:not([hidden])')).toContainText('went to row 400')
  await page.getByRole('button', { name: 'Go there' }).click()
  await expect(page.locator('.row .cell.changed')).toHaveText('300')
})

test('where the flow sees only what is saved, rows stay where they are', async ({ page }) => {
  await mount(page, {
    start: { order: [{ column: 'height', direction: 'ascending' }] },
    editing: { seen: false },
  })
  await type(page, 0, 3, '300', 'Enter')
  await cell(page, 5, 0).click()
  await page.waitForTimeout(300)
  await expect(cell(page, 0, 3)).toHaveText('300')
  await page.getByRole('button', { name: 'Save all' }).click()
  await expect(cell(page, 0, 3)).not.toHaveText('300')
})

test('an editor that is scrolled away keeps its text', async ({ page }) => {
  await mount(page)
  await cell(page, 2, 1).click()
  await page.keyboard.type('still')
  await page.locator('.body').hover()
  await page.mouse.wheel(0, 4000)
  await expect(cell(page, 2, 1)).toHaveCount(0)
  await page.keyboard.type(' here')
  await expect(editor(page)).toHaveValue('still here')
  await page.keyboard.press('Enter')
  await expect
    .poll(() => changed(page))
    .toEqual([{ key: 2, before: { name: 'tree 002' }, after: { name: 'still here' } }])
})

test('each cell, or each row, is saved by itself where the definition says so', async ({ page }) => {
  const saves: unknown[] = []
  await page.exposeFunction('told', (list: { changed: unknown[] }) => void saves.push(list.changed))
  const tell = (list: object): void => (window as unknown as { told(list: object): void }).told(list)
  await mount(page, { editing: { save: 'row' } })
  await saveBy(page, tell)
  await type(page, 0, 1, 'one', 'Tab')
  await type(page, 0, 3, '1', 'Tab')
  expect(saves).toEqual([])
  await cell(page, 3, 0).click()
  await expect
    .poll(() => saves)
    .toEqual([[{ key: 0, before: { name: 'tree 000', height: 0 }, after: { name: 'one', height: 1 } }]])
  await expect(page.locator('.pending-changes')).toBeHidden()
})

test('unsaved changes outlast a reload, and what was typed is never taken for markup', async ({ page }) => {
  const evil = '<img src=x onerror="window.hit=1">'
  const keep = async (): Promise<void> =>
    await page.evaluate(
      async given => {
        const scope = window as unknown as Record<string, never> & {
          meadow: { mountMeadow(host: Element, options: object): { ready: Promise<void> } }
        }
        const unsaved = {
          load: () => Promise.resolve(JSON.parse(localStorage.getItem('changes') ?? 'null') as unknown),
          save: (list: unknown) => Promise.resolve(localStorage.setItem('changes', JSON.stringify(list))),
        }
        const grid = scope.meadow.mountMeadow(document.querySelector('#grid')!, { ...given, unsaved })
        Object.assign(window, { handle: grid })
        await grid.ready
      },
      { rows: ROWS, definition: { ...DEFINITION, editing: { ...DEFINITION.editing, leaving: false } } },
    )
  const open = async (): Promise<void> => {
    await page.goto(served.url)
    await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
    await keep()
  }
  await open()
  await type(page, 0, 1, evil, 'Enter')
  await type(page, 1, 4, 'never', 'Enter')
  await page.waitForTimeout(400)
  await open()
  await expect(cell(page, 0, 1)).toHaveText(evil)
  await expect(cell(page, 1, 4)).toHaveText('never')
  await expect(cell(page, 1, 4)).toHaveClass(/wrong/)
  await page.getByRole('button', { name: 'List' }).click()
  await expect(page.locator('.pending-list')).toContainText(evil)
  expect(await page.evaluate(() => (window as unknown as { hit?: number }).hit)).toBeUndefined()
  await page.getByRole('button', { name: 'Discard all' }).click()
  await page.locator('dialog.confirm').getByRole('button', { name: 'Discard all' }).click()
  await page.waitForTimeout(400)
  expect(await page.evaluate(() => localStorage.getItem('changes'))).toBe('null')
})
