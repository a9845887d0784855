import type { packText } from './packed-part.ts'

/** What writes workbooks around the rows of their sheets; it is loaded when the first is asked for. */
export const loadWorkbook = (): Promise<typeof import('./workbook-file.ts')> => import('./workbook-file.ts')

let packer: typeof packText | null = null

/** Loads what packs sheets where their rows are, when it is first asked for. */
export async function loadPacker(): Promise<void> {
  packer ??= (await loadWorkbook()).packText
}

/** What packs sheets; it is loaded before. */
export function loadedPacker(): typeof packText {
  if (!packer) throw new Error('What packs sheets is not loaded yet.')
  return packer
}
