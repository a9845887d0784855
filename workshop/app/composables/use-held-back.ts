import { useOpenGrid } from '~/stores/open-grid'

/** So long a reader has stopped typing: each condition costs a service two counts. */
const REST_MS = 500

/**
 * How many rows each condition alone keeps from passing, by column. An engine here tells it with every view; a service is
 * asked while somebody looks.
 */
export function useHeldBack(): Readonly<Ref<Readonly<Record<string, number>>>> {
  const grid = useOpenGrid()
  const asked = shallowRef<Readonly<Record<string, number>>>({})
  let newest = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  async function ask(mine: number): Promise<void> {
    const { handle, report } = grid
    const source = handle?.source
    if (!handle || !source || !report) return
    const told = await source.ask('explain', { request: handle.request() }).catch(() => null)
    if (mine !== newest || !told) return
    asked.value = Object.fromEntries(
      Object.entries(told.conditions).map(([column, { without }]) => [
        column,
        Math.max(0, without - report.passing),
      ]),
    )
  }
  watch(
    () => grid.report,
    report => {
      const mine = ++newest
      clearTimeout(timer)
      asked.value = {}
      const conditions = Object.keys(grid.arrangement?.conditions ?? {})
      const isToldHere = conditions.every(column => column in (report?.heldBack ?? {}))
      // Counts that are not sure themselves tell nothing of what is held back.
      if (!report || report.atLeast || isToldHere) return
      timer = setTimeout(() => void ask(mine), REST_MS)
    },
    { immediate: true },
  )
  onBeforeUnmount(() => {
    newest++
    clearTimeout(timer)
  })
  return computed(() => ({ ...asked.value, ...grid.report?.heldBack }))
}
