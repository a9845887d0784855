import { useCallback, useLayoutEffect, useRef, useSyncExternalStore } from 'react'
import type { Arrangement, ArrangementInput } from '@vast-meadow/engine'
import type { MeadowHandle } from '@vast-meadow/grid'

const nothing = (): null => null

/** How a grid is arranged now, and what arranges it; null before its rows are there. */
export function useArrangement<Row extends object>(
  grid: MeadowHandle<Row> | null,
): readonly [arrangement: Arrangement | null, arrange: (change: ArrangementInput) => void] {
  const subscribe = useCallback(
    (listener: () => void) => {
      const ends = [grid?.on('arrangement', listener), grid?.on('open', listener)]
      return () => {
        for (const end of ends) end?.()
      }
    },
    [grid],
  )
  const now = useCallback(() => (grid?.definition ? grid.arrangement : null), [grid])
  const arrangement = useSyncExternalStore(subscribe, now, nothing)
  // A function of its own for each grid would hold on to those before, through what hosts write around it.
  const latest = useRef(grid)
  useLayoutEffect(() => {
    latest.current = grid
  }, [grid])
  const arrange = useCallback((change: ArrangementInput) => {
    latest.current?.arrange(change)
  }, [])
  return [arrangement, arrange]
}
