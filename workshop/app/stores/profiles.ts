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
  /** Which generation a column was counted in. */
  const counted = new Map<string, number>()
  /** Grows when rows, or how they are written and worked out, are others: what is known is shown until it is counted anew. */
  const generation = ref(0)
  let counting = false
  // Above what watches it: a watcher reads at once.
  const binding = () => grid.handle?.request().binding

  watch(
    () => grid.saved?.id,
    () => known.clear(),
  )
  watch(
    [() => grid.description, () => grid.definition && JSON.stringify(binding())],
    () => generation.value++,
  )

  /** Asks for a column's profile of a generation; it is there some time later. */
  function want(column: string, wanted: number): void {
    if (counted.get(column) === wanted || waiting.has(column)) return
    waiting.add(column)
    void count()
  }

  async function count(): Promise<void> {
    if (counting) return
    counting = true
    for (const column of waiting) {
      const asked = generation.value
      const told = await grid.handle?.source
        ?.ask('profile', { column, limit: LISTED, binding: binding() })
        .catch(() => null)
      waiting.delete(column)
      if (asked !== generation.value) {
        waiting.add(column)
        continue
      }
      counted.set(column, asked)
      if (told) known.set(column, told)
      else known.delete(column)
    }
    counting = false
  }

  return { known, want, generation }
})
