import { useOpenGrid } from '~/stores/open-grid'

/**
 * In how many rows expressions of the definition hold now. `columns`: the columns that tell where each does, as the grid
 * itself asks for them; null stands for what is not known, or not yet.
 */
export function useTouchedRows(
  columns: () => readonly (string | null)[],
): Readonly<Ref<readonly (number | null)[]>> {
  const grid = useOpenGrid()
  const touched = shallowRef<readonly (number | null)[]>([])
  let asked = 0
  watch(
    [columns, () => grid.report],
    async () => {
      const mine = ++asked
      const source = grid.handle?.source
      const binding = grid.handle?.request().binding
      const counts = await Promise.all(
        columns().map(async column => {
          if (column === null || !source) return null
          const profile = await source.ask('profile', { column, limit: 2, binding }).catch(() => null)
          return profile ? (profile.values.find(({ value }) => value === true)?.count ?? 0) : null
        }),
      )
      if (mine === asked) touched.value = counts
    },
    { immediate: true, deep: true },
  )
  return touched
}
