import { words } from '~/words'
import { readDefinition, readScene, type Arrangement, type Definition, type Scene } from '@vast-meadow/engine'
import { unzip } from 'fflate'
import { keptArrangement } from '~/storage/kept-arrangement'
import { fileOrigin, type Origin, type SavedGrid } from '~/storage/saved-grid'
import { errorOf } from '@vast-meadow/engine/client'

export interface ImportedGrid {
  readonly title: string
  readonly origin: Origin
  readonly definition: Definition
  readonly arrangement: Arrangement | null
  readonly file: File | null
  readonly scenes?: readonly Scene[]
}

/** The name under which a zip holds what the workshop knows of a grid. */
export const GRID_IN_ZIP = 'workshop.json'

export const isGridFile = (name: string): boolean => /\.(grid\.json|zip)$/i.test(name)

/** A grid from its definition, or from a zip with its rows. Throws with a sentence that says what is wrong. */
export async function importGrid(file: File): Promise<ImportedGrid> {
  if (/\.zip$/i.test(file.name)) return await fromZip(file)
  const definition = definitionFrom(await jsonOf(file, file.name), file.name)
  const title = definition.title || file.name.replace(/\.grid\.json$/i, '')
  return { title, origin: { kind: 'none' }, definition, arrangement: null, file: null }
}

async function fromZip(file: File): Promise<ImportedGrid> {
  const entries = await unzipped(file)
  const entry = entries[GRID_IN_ZIP]
  if (!entry) throw new Error(words.importGrid.holdsNoSoItWas(file.name, GRID_IN_ZIP))
  const saved = (await jsonOf(new Blob([entry.slice()]), GRID_IN_ZIP)) as Partial<SavedGrid>
  const definition = definitionFrom(saved.definition, GRID_IN_ZIP)
  const origin = saved.origin ?? { kind: 'none' as const }
  const { title = definition.title } = saved
  const arrangement = keptArrangement(saved.arrangement, definition)
  // One that cannot be read is no loss of the others.
  const scenes = (saved.scenes ?? []).flatMap(one => {
    const read = readScene(one)
    return read.ok ? [read.scene] : []
  })
  if (origin.kind !== 'file') return { title, origin, definition, arrangement, file: null, scenes }
  const name = Object.keys(entries).find(path => path.startsWith('rows.'))
  const rows = name ? new File([entries[name].slice()], origin.name) : null
  const kept: Origin = rows
    ? fileOrigin(rows, origin.name, { options: origin.options, times: origin.times })
    : { kind: 'none' }
  return { title, origin: kept, definition, arrangement, file: rows, scenes }
}

async function jsonOf(blob: Blob, name: string): Promise<unknown> {
  try {
    const json: unknown = JSON.parse(await blob.text())
    return json
  } catch (error) {
    throw new Error(words.importGrid.isNotJson(name, errorOf(error).message), { cause: error })
  }
}

function definitionFrom(json: unknown, name: string): Definition {
  const read = readDefinition(json)
  if (read.ok) return read.definition
  const [first] = read.problems
  throw new Error(
    `${name} is no definition of a grid${first.path ? ` (${first.path})` : ''}: ${first.message}`,
  )
}

function unzipped(file: File): Promise<Record<string, Uint8Array>> {
  return new Promise((resolve, reject) => {
    void file
      .arrayBuffer()
      .then(buffer =>
        unzip(new Uint8Array(buffer), (error, entries) =>
          error
            ? reject(new Error(words.importGrid.isNotAZipFile(file.name, error.message)))
            : resolve(entries),
        ),
      )
  })
}
