import { sure } from '@vast-meadow/engine/client'
import type { Field, RowSource, ViewRequest } from '@vast-meadow/engine'
import type { MeadowHandle } from '@vast-meadow/grid'
import { defineStore } from 'pinia'
import { download, fileName } from '~/handover/download'
import type { HandedGrid, RowsFrom } from '~/handover/handed-grid'
import { filesOf, HOST_NAMES } from '~/handover/hosts'
import type { HostName } from '~/handover/hand-over'
import { changedFiles } from '~/handover/line-changes'
import { picturesOf, type HandedPicture } from '~/handover/pictures'
import { packFiles } from '~/handover/project/pack-files'
import { useOpenGrid } from './open-grid'

/** Rows that stand in code as an example. */
const SAMPLE_ROWS = 5
const HOST_KEY = 'vast-meadow-host'

/** What is told of a zip that was made. */
interface Packed {
  readonly name: string
  readonly bytes: number
}

/** What the open grid is handed over as, to which host, and what of that is new since the last time. */
export const useHandOver = defineStore('hand-over', () => {
  const grid = useOpenGrid()
  const host = ref<HostName>(lastHost())
  const rowsFrom = ref<RowsFrom>('origin')
  const filled = shallowRef<readonly string[]>([])
  const sample = shallowRef<HandedGrid['sample']>([])

  watch(host, name => localStorage.setItem(HOST_KEY, name))
  watch(
    () => grid.saved?.id,
    () => (rowsFrom.value = 'origin'),
  )

  const handed = computed<HandedGrid | null>(() => {
    const { start, saved, ownFields } = grid
    if (!start || !saved) return null
    const { title, origin } = saved
    return {
      title,
      definition: start,
      origin,
      fields: ownFields,
      filled: filled.value,
      sample: sample.value,
      rowsFrom: rowsFrom.value,
      scenes: saved.scenes ?? [],
    }
  })
  const files = computed(() => (handed.value ? filesOf(host.value, handed.value) : []))
  /** The last hand-over to this host; another host has other files. */
  const before = computed(() => {
    const last = grid.saved?.handedOver
    return last?.host === host.value ? last : null
  })
  const changes = computed(() => (before.value ? changedFiles(before.value.files, files.value) : []))

  /** Looks at the rows for what their type says; what cannot be told is left open. */
  async function look(): Promise<void> {
    const { handle, ownFields, isFar } = grid
    const source = handle?.source
    if (!handle || !source) return
    const request = requestOfAll(handle)
    const id = grid.saved?.id
    const rows = await sampleOf(source, request, ownFields).catch(() => [])
    // A service would have to read all of its rows for it.
    const known = isFar ? [] : await filledOf(source, request, ownFields).catch(() => [])
    if (grid.saved?.id !== id) return
    sample.value = rows
    filled.value = known
  }

  /** Saves what is handed over, and remembers it as handed over. */
  async function hand(): Promise<Packed> {
    const given = sure(handed.value)
    if (host.value === 'definition') return saveDefinition(given)
    const zip = await packFiles(host.value, given, await grid.fileForHandover(), await pictures(given))
    const name = `${fileName(given.title)}-${host.value}.zip`
    download(zip, name)
    remember()
    return { name, bytes: zip.size }
  }

  async function pictures({ definition }: HandedGrid): Promise<readonly HandedPicture[]> {
    const { handle } = grid
    const source = handle?.source
    if (!source) return []
    // Those that cannot be told are not there where the page goes, as before; all else is handed over.
    return await picturesOf(source, requestOfAll(handle), definition, location.origin).catch(() => [])
  }

  function saveDefinition(given: HandedGrid): Packed {
    const [{ path, text }] = filesOf('definition', given)
    const file = new Blob([text], { type: 'application/json' })
    download(file, path)
    remember()
    return { name: path, bytes: file.size }
  }

  function remember(): void {
    grid.handOver({ host: host.value, at: Date.now(), files: files.value })
  }

  return { host, rowsFrom, handed, files, before, changes, look, hand }
})

/** All rows, whatever is arranged. */
const requestOfAll = (handle: MeadowHandle): ViewRequest => ({
  ...handle.request(),
  conditions: {},
  search: '',
  groups: [],
  order: [],
})

function lastHost(): HostName {
  const name = localStorage.getItem(HOST_KEY)
  return HOST_NAMES.find(known => known === name) ?? 'page'
}

/** Some first rows, as a program has them. */
async function sampleOf(
  source: RowSource,
  request: ViewRequest,
  fields: readonly Field[],
): Promise<HandedGrid['sample']> {
  const view = await source.view(request)
  try {
    const { text } = await source.ask('exportText', {
      view: view.id,
      rows: { kind: 'all' },
      from: 0,
      to: SAMPLE_ROWS,
      columns: fields.map(({ key }) => ({ key, title: key })),
      rules: { format: 'json', values: 'raw' },
    })
    return JSON.parse(`[${text}]`) as HandedGrid['sample']
  } finally {
    view.close()
  }
}

/** Fields that have a value in every row. */
async function filledOf(
  source: RowSource,
  request: ViewRequest,
  fields: readonly Field[],
): Promise<readonly string[]> {
  const of = fields.map(({ key }) => ({ column: key, summary: 'missing' as const }))
  const told = await source.ask('summarize', { request, of })
  return told.filter(({ all }) => all === 0).map(({ column }) => column)
}
