import type { ArrangementStorage } from '../kernel/options.ts'

/**
 * Keeps what a reader arranges in the browser's `localStorage`, under `vast-meadow:` and a name of the host's. A store
 * that is full, refused or damaged is told of by the grid's `problem` event and costs nothing else. `area`: another
 * store of the same kind, such as `sessionStorage`.
 */
export function localArrangements(name: string, area?: Storage): ArrangementStorage {
  const key = `vast-meadow:${name}`
  // A page that may not keep anything is told so by the property itself, so it is read where that can be caught.
  const store = (): Storage => area ?? localStorage
  return {
    load: () =>
      new Promise(resolve => {
        const text = store().getItem(key)
        resolve(text === null ? null : (JSON.parse(text) as unknown))
      }),
    save: kept =>
      new Promise(resolve => {
        store().setItem(key, JSON.stringify(kept))
        resolve()
      }),
  }
}
