import { writeFileSync } from 'node:fs'
import { expect, type Locator, type Page } from '@playwright/test'

/** The workshop as a person meets it. */
export class Workshop {
  readonly page: Page
  constructor(page: Page) {
    this.page = page
  }

  /** `grouped`: what it groups by at its start stays. */
  async openDemo(title: string, rows?: number, grouped = false): Promise<void> {
    await this.page.goto('/')
    const card = this.page.getByRole('article').filter({ hasText: title })
    if (rows !== undefined) await this.chooseVolume(card, rows)
    await card.getByRole('button', { name: 'Open' }).click()
    await this.ready()
    if (!grouped) await this.takeGroupsAway()
  }

  /** Rows stand one by one, as most is tried on them. */
  private async takeGroupsAway(): Promise<void> {
    const lift = this.page.locator('.trail .lift')
    for (let left = await lift.count(); left > 0; left--) {
      await lift.first().click()
      await expect(lift).toHaveCount(left - 1)
    }
    await expect(this.grid.locator('.body .row.group:visible')).toHaveCount(0)
  }

  /** Chooses how many rows a demo grid shall have. */
  async chooseVolume(card: Locator, rows: number): Promise<void> {
    await card.getByRole('combobox').click()
    await this.page.getByRole('option', { name: rows.toLocaleString('en-GB'), exact: true }).click()
  }

  async openFile(name: string, content: string | Buffer): Promise<void> {
    await this.page.goto('/')
    await this.chooseFile('Choose a file', name, content)
  }

  async chooseFile(label: string, name: string, content: string | Buffer): Promise<void> {
    const buffer = typeof content === 'string' ? Buffer.from(content) : content
    await this.page
      .locator(`input[aria-label="${label}"]`)
      .setInputFiles({ name, mimeType: 'text/csv', buffer })
  }

  /** A file that is too large to be handed over as it is: it is written down first. */
  async openLargeFile(path: string, content: string): Promise<void> {
    writeFileSync(path, content)
    await this.page.goto('/')
    await this.page.locator('input[aria-label="Choose a file"]').setInputFiles(path)
  }

  /** The first rows are on screen. */
  async ready(): Promise<void> {
    await expect(this.page.locator('.foot .count')).toContainText('rows', { timeout: 60_000 })
    await expect(this.page.locator('.body [role=row]').first()).toBeVisible()
  }

  async openPanel(title: string): Promise<void> {
    const stage = this.stageButton(title)
    if ((await stage.getAttribute('aria-pressed')) !== 'true') await stage.click()
  }

  get flow(): Locator {
    return this.page.getByRole('navigation', { name: 'Flow' })
  }

  get panel(): Locator {
    return this.page.getByRole('complementary')
  }

  get grid(): Locator {
    return this.page.locator('.view')
  }

  get readout(): Locator {
    return this.page.locator('.foot')
  }

  header(title: string): Locator {
    return this.grid.getByRole('columnheader', { name: title, exact: true })
  }

  /** The texts of a column, top to bottom, as they are shown now. */
  async texts(title: string): Promise<string[]> {
    const place = await this.header(title).getAttribute('aria-colindex')
    const cells = await this.page
      .locator(`.body [role=row]:not(.group) [aria-colindex="${place}"]`)
      .evaluateAll(found =>
        found
          .filter(cell => cell.checkVisibility())
          .map(cell => {
            const slot = cell.querySelector('slot')
            const text = slot ? (slot.assignedElements()[0]?.textContent ?? '') : (cell.textContent ?? '')
            return { text: text.trim(), top: cell.getBoundingClientRect().top }
          }),
      )
    return cells.sort((a, b) => a.top - b.top).map(cell => cell.text)
  }

  async choose(label: string, option: string): Promise<void> {
    // The field of a select lies over its input, and is what a person hits.
    await this.panel.getByRole('combobox', { name: label }).click({ force: true })
    await this.page.getByRole('option', { name: option, exact: true }).click()
  }

  /** A file of what would be handed over now; Ship is open. */
  async handedFile(path: string): Promise<string> {
    await this.panel.getByRole('button', { name: 'See the code' }).click()
    const sheet = this.page.getByRole('dialog')
    await sheet.getByRole('button', { name: path, exact: true }).click()
    const code = sheet.getByRole('region', { name: `Code of ${path}` }).locator('code')
    await expect(code).not.toHaveText('')
    const text = await code.innerText()
    await sheet.getByRole('button', { name: 'Close' }).click()
    await expect(sheet).toBeHidden()
    return text
  }

  /** Rows out of a stage, as the flow shows them. */
  stage(title: string): Locator {
    return this.stageButton(title).locator('.count')
  }

  private stageButton(title: string): Locator {
    const name = this.page.locator('.title', { hasText: new RegExp(`^${title}$`) })
    return this.flow.getByRole('button').filter({ has: name })
  }
}
