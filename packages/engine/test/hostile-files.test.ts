import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { build } from 'esbuild'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { HOSTILE } from './support/hostile-files.ts'

const run = promisify(execFile)
const folder = mkdtempSync(join(tmpdir(), 'meadow-hostile-'))
const script = join(folder, 'child.mjs')
/** Whoever takes longer hangs: the slowest of them takes a twentieth. */
const HANGS_MS = 120_000
/** What a reader may take besides the file: what it is told to refuse from, and what the language has not swept up yet. */
const MOST_MB = 500

beforeAll(async () => {
  await build({
    entryPoints: [fileURLToPath(new URL('support/hostile-child.ts', import.meta.url))],
    bundle: true,
    outfile: script,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    logLevel: 'error',
  })
})
afterAll(() => rmSync(folder, { recursive: true }))

/** Each in a process of its own, so that one cannot take the others with it; the quick ones in every check. */
const all = Object.entries(HOSTILE)
const chosen = process.env.CHECK_ALL ? all : all.filter((_, i) => i % 3 === 0)

describe('a small file that asks for much', () => {
  it.each(chosen)(
    '%s: ends in a table or a sentence, and takes no more memory than is said',
    async (name, { becomes }) => {
      const { stdout } = await run(process.execPath, [script, name], { timeout: HANGS_MS })
      const { became, megabytes, size } = JSON.parse(stdout) as Record<string, number>
      expect(became).toBe(becomes)
      expect(megabytes).toBeLessThan(MOST_MB + 4 * size)
    },
    HANGS_MS,
  )
})
