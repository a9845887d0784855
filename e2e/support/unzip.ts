import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import type { Download } from '@playwright/test'
import { unzipSync } from 'fflate'

/** What a zip holds that was downloaded, in a folder of its own. */
export async function unzipped(download: Download): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'meadow-zip-'))
  for (const [name, data] of Object.entries(unzipSync(new Uint8Array(readFileSync(await download.path()))))) {
    mkdirSync(dirname(join(folder, name)), { recursive: true })
    writeFileSync(join(folder, name), data)
  }
  return folder
}
