import { readFileSync, writeFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { EVENT_NAMES } from '../src/kernel/events.ts'
import { apiReference } from './support/api-reference.ts'

const API = new URL('../../../docs/api.md', import.meta.url)
const MARK = '<!-- What follows is made from the types; a test holds it to them. -->\n'

it('the API stands in one page as its types have it (UPDATE_DOCS=1 writes it)', () => {
  const [before, after] = readFileSync(API, 'utf8').split(MARK)
  const made = apiReference()
  if (process.env.UPDATE_DOCS) writeFileSync(API, `${before}${MARK}\n${made}\n`)
  else expect(after.trim()).toBe(made.trim())
  for (const name of EVENT_NAMES) expect(made).toContain(`\`${name}: `)
})
