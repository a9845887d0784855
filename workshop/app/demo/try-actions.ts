import { words } from '~/words/english'
import type { ActionDone, BatchCall, CellAction, MeadowHandle, BatchAction } from '@vast-meadow/grid'
import type { KeyValue, RowRecord } from '@vast-meadow/engine'

/** Actions that take rows away, by their names. */
const TAKES_AWAY = /^(discard|delete|remove)/i
/** Rows that are taken away at once at most: each is put back by its record. */
const MOST_ROWS = 10_000

/**
 * Plays the page that a grid will stand in: what is called as if it took rows away does so here, and can be undone; of
 * all else it is told which part of the page will do it.
 */
export function tryActions(handle: () => MeadowHandle | null): {
  readonly actions: Readonly<Record<string, CellAction>>
  readonly batch: Readonly<Record<string, BatchAction>>
} {
  async function takeAway(keys: readonly KeyValue[], records: readonly object[]): Promise<ActionDone> {
    const grid = handle()
    await grid?.commit({ remove: keys })
    return {
      text: words.tryActions.takenAway(keys.length),
      undo: async () => void (await grid?.commit({ put: records as RowRecord[] })),
    }
  }
  const hasKey = (): boolean => (handle()?.definition?.key.length ?? 0) > 0
  const row: CellAction = ({ name, key, record }) =>
    TAKES_AWAY.test(name) && hasKey()
      ? takeAway([key], [record])
      : { text: words.tryActions.yourPageDoesIt(`parts.actions.${name}`) }
  const batch: BatchAction = async (call: BatchCall) => {
    const { name, count } = call
    if (!TAKES_AWAY.test(name) || !hasKey() || count > MOST_ROWS)
      return { text: words.tryActions.yourPageDoesIt(`parts.batch.${name}`) }
    const keys = (await handle()?.selectedKeys(MOST_ROWS)) ?? []
    return await takeAway(keys, await call.records(MOST_ROWS))
  }
  const named = <Part>(part: Part): Readonly<Record<string, Part>> => new Proxy({}, { get: () => part })
  return { actions: named(row), batch: named(batch) }
}
