import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'

const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What axe finds wrong in a page as it is now, or in a part of it. */
export async function violations(page: Page, part: string | null = null): Promise<string[]> {
  await page
    .evaluate(source => {
      // The page's policy forbids a script element; the test's own channel may evaluate.
      ;(0, eval)(source)
    }, axeSource)
    .catch(async () => {
      const cdp = await page.context().newCDPSession(page)
      await cdp.send('Runtime.evaluate', { expression: axeSource })
    })
  return await page.evaluate(async within => {
    const axe = (
      window as unknown as {
        axe: {
          run(
            within: string | Document,
          ): Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }>
        }
      }
    ).axe
    const { violations } = await axe.run(within ?? document)
    return violations.map(
      v => `${v.id}: ${v.nodes.map(node => `${node.html.slice(0, 140)} ${node.failureSummary}`).join(' | ')}`,
    )
  }, part)
}
