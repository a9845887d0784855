import type { Profile } from '@vast-meadow/engine'
import { defineStore } from 'pinia'
import { useOpenGrid } from './open-grid'

/** Most values listed of a column. */
const LISTED = 5

/** What the open grid's columns hold, counted one after another as somebody looks at them. */
export const useProfiles = defineStore('profiles', () => {
  const grid = useOpenGrid()
  const known = shallowReactive(new Map<string, Profile>())
  const waiting = new Set<string>()
  let counting = false

  // Other rows, other fields: everything is counted anew. Formats are part of what is told.
  watch([() => grid.description, () => grid.definition], () => known.clear())

  /** Asks for a column's profile; it is there some time later. */
  function want(column: string): void {
    if (known.has(column) || waiting.has(column)) return
    waiting.add(column)
    void count()
  }

  async function count(): Promise<void> {
    if (counting) return
    counting = true
    for (const column of waiting) {
      const { description } = grid
      const binding = grid.handle?.request().binding
      const asked = { column, limit: LISTED, binding }
      const told = await grid.handle?.source?.ask('profile', asked).catch(() => null)
      waiting.delete(column)
      if (told && grid.description === description) known.set(column, told)
    }
    counting = false
  }

  return { known, want }
})
