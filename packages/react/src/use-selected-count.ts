import { useCallback, useSyncExternalStore } from 'react'
import type { MeadowHandle } from '@vast-meadow/grid'

const none = (): number => 0

/** How many rows of a grid are selected; the grid itself tells which (`selectedKeys`, `selectedRows`). */
export function useSelectedCount<Row extends object>(grid: MeadowHandle<Row> | null): number {
  const subscribe = useCallback(
    (listener: () => void) => grid?.on('selection', listener) ?? (() => {}),
    [grid],
  )
  const now = useCallback(() => grid?.selectedCount ?? 0, [grid])
  return useSyncExternalStore(subscribe, now, none)
}
