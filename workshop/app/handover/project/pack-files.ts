import { words } from '~/words'
import { strToU8, zip } from 'fflate'
import standaloneUrl from '@vast-meadow/grid/standalone?url'
import { GRID_IN_ZIP } from '~/intake/import-grid'
import { filesOf, hosts } from '../hosts'
import { rowsFile, type HandedGrid } from '../handed-grid'
import type { HandedPicture } from '../pictures'
import type { HostName } from '../hand-over'
import { tarballName } from './versions'

/**
 * All that is handed over for a host: its files, the file of rows with the pictures that it speaks of, and the grid itself as
 * a script or as packages.
 */
export async function packFiles(
  host: HostName,
  grid: HandedGrid,
  rows: Blob | null,
  pictures: readonly HandedPicture[],
): Promise<Blob> {
  const { packages, rowsFolder } = hosts[host]
  const files: Record<string, Uint8Array> = {}
  for (const { path, text } of filesOf(host, grid)) files[path] = strToU8(text)
  if (host === 'page') {
    const { title, definition, origin } = grid
    files[GRID_IN_ZIP] = strToU8(JSON.stringify({ title, definition, origin }, null, 2))
    files['vast-meadow.js'] = await bytesAt(standaloneUrl)
  }
  for (const name of packages)
    files[`vendor/${tarballName(name)}`] = await bytesAt(`/packages/${tarballName(name)}`)
  const file = rowsFile(grid)
  if (file !== null && host !== 'definition') {
    if (!rows) throw new Error(words.packFiles.theRowsOfAreNo(grid.title))
    files[`${rowsFolder}${file}`] = new Uint8Array(await rows.arrayBuffer())
  }
  for (const { path, bytes } of pictures) files[`${rowsFolder}${path}`] = bytes
  return new Blob([await zipped(files)], { type: 'application/zip' })
}

async function bytesAt(url: string): Promise<Uint8Array> {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(words.packFiles.theGridsScriptCouldNot)
  return new Uint8Array(await answer.arrayBuffer())
}

function zipped(files: Record<string, Uint8Array>): Promise<Uint8Array<ArrayBuffer>> {
  return new Promise((resolve, reject) => {
    // The synchronous coder works in the page in one piece; this one in slices, without a worker of its own.
    zip(files, { level: 6, consume: true }, (error, data) =>
      error ? reject(error) : resolve(data as Uint8Array<ArrayBuffer>),
    )
  })
}
