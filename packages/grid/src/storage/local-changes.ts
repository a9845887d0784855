import type { ChangeStorage } from '../kernel/options.ts'

/** What a tab keeps, and when it did last. */
interface KeptByTab {
  readonly at: number
  readonly changes: unknown
}

/** A tab that said nothing for so long is taken for closed where the browser cannot tell. */
const SILENT_MS = 10 * 60_000

/**
 * Keeps unsaved changes in the browser's `localStorage`, under `vast-meadow-changes:` and a name of the host's, each tab
 * its own: a tab that is reloaded has its own again, and a new one takes up what closed tabs left. Two that are open at
 * once never write over one another. A store that is full or refused is told of by the grid's `problem` event.
 */
export function localChanges(name: string): ChangeStorage {
  const key = `vast-meadow-changes:${name}`
  const tab = tabName(key)
  holdWhileOpen(`${key}:${tab}`)
  return {
    async load() {
      const mine = readTab(key, tab)
      if (mine) return mine.changes
      const open = await openTabs(key)
      // The newest of those that nobody has open any more; the others wait for further tabs.
      const [left] = [...tabsOf(key)]
        .filter(([one, { at }]) => (open ? !open.has(one) : Date.now() - at > SILENT_MS))
        .sort(([, a], [, b]) => b.at - a.at)
      if (!left) return null
      localStorage.removeItem(`${key}:${left[0]}`)
      writeTab(key, tab, left[1].changes)
      return left[1].changes
    },
    save(changes) {
      return new Promise(resolve => {
        if (changes === null) localStorage.removeItem(`${key}:${tab}`)
        else writeTab(key, tab, changes)
        resolve()
      })
    },
  }
}

/** A name that lasts as long as the tab does, also over reloads. A tab that was doubled gets one of its own. */
function tabName(key: string): string {
  const known = sessionStorage.getItem(key)
  const [navigation] = performance.getEntriesByType('navigation')
  const isSame = navigation && 'type' in navigation && navigation.type !== 'navigate'
  if (known !== null && isSame) return known
  const made = crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2)}`
  sessionStorage.setItem(key, made)
  return made
}

const lockName = (name: string): string => `vast-meadow:${name}`

/** A lock is held for as long as the tab is there, and given back when it goes, however it goes. */
function holdWhileOpen(name: string): void {
  void navigator.locks?.request(lockName(name), () => new Promise(() => {})).catch(() => {})
}

/** The tabs that are open; null: this browser cannot tell. */
async function openTabs(key: string): Promise<ReadonlySet<string> | null> {
  const told = await navigator.locks?.query?.()
  if (!told) return null
  const prefix = lockName(`${key}:`)
  const names = (told.held ?? []).flatMap(({ name }) =>
    name?.startsWith(prefix) ? [name.slice(prefix.length)] : [],
  )
  return new Set(names)
}

function* tabsOf(key: string): Iterable<[string, KeptByTab]> {
  for (let i = 0; i < localStorage.length; i++) {
    const name = localStorage.key(i)
    if (!name?.startsWith(`${key}:`)) continue
    const tab = name.slice(key.length + 1)
    const kept = readTab(key, tab)
    if (kept) yield [tab, kept]
  }
}

function readTab(key: string, tab: string): KeptByTab | null {
  const text = localStorage.getItem(`${key}:${tab}`)
  return text === null ? null : (JSON.parse(text) as KeptByTab)
}

const writeTab = (key: string, tab: string, changes: unknown): void =>
  localStorage.setItem(`${key}:${tab}`, JSON.stringify({ at: Date.now(), changes } satisfies KeptByTab))
