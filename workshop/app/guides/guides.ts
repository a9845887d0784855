/** A guide as it lies in `docs`. */
export interface Guide {
  readonly name: string
  readonly title: string
  readonly text: string
}

const FILES = import.meta.glob<string>('../../../docs/*.md', { query: '?raw', import: 'default' })

/** The guides by what they are about, in the order in which they are read. */
export const SHELVES = [
  { about: 'begin', names: ['start', 'from-a-table', 'hosting', 'definition', 'api'] },
  { about: 'look', names: ['columns', 'cells', 'theming'] },
  { about: 'find', names: ['search', 'conditions', 'expressions', 'groups'] },
  { about: 'act', names: ['selection', 'actions', 'details', 'editing', 'export', 'arrangement', 'scenes'] },
  { about: 'care', names: ['performance', 'accessibility', 'languages', 'security'] },
  { about: 'rows', names: ['reading', 'sources', 'live-rows', 'remote', 'listing', 'server', 'scale'] },
] as const

const GUIDE_NAMES: readonly string[] = SHELVES.flatMap(({ names }) => names)

/** null: there is no such guide. */
export async function guideNamed(name: string): Promise<Guide | null> {
  const load = Object.entries(FILES).find(([path]) => path.endsWith(`/${name}.md`))?.[1]
  if (!load) return null
  const text = await load()
  return { name, text, title: /^# (.+)$/m.exec(text)?.[1] ?? name }
}

export const allGuides = async (): Promise<Guide[]> =>
  (await Promise.all(GUIDE_NAMES.map(guideNamed))).filter(guide => guide !== null)
