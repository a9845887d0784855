import type { ArrangementStorage } from '../kernel/options.ts'

const DATABASE = 'vast-meadow'
const ARRANGEMENTS = 'arrangements'

/**
 * Keeps what a reader arranges in the browser's IndexedDB, under a name of the host's: for arrangements too large for
 * `localStorage`, and pages that keep other things there. Failures are told as with `localArrangements`.
 */
export function indexedArrangements(name: string): ArrangementStorage {
  return {
    load: async () => (await inStore<unknown>('readonly', store => store.get(name))) ?? null,
    async save(kept) {
      // What is stored is plain JSON, whatever it came as.
      const plain: unknown = JSON.parse(JSON.stringify(kept))
      await inStore('readwrite', store => store.put(plain, name))
    },
  }
}

/** Opened for each use: a page that holds a database open keeps others from bringing it up to date. */
async function inStore<Answer>(
  mode: IDBTransactionMode,
  use: (store: IDBObjectStore) => IDBRequest<Answer>,
): Promise<Answer> {
  const opening = indexedDB.open(DATABASE, 1)
  opening.onupgradeneeded = () => opening.result.createObjectStore(ARRANGEMENTS)
  const database = await answerOf(opening)
  try {
    const transaction = database.transaction(ARRANGEMENTS, mode)
    const answer = await answerOf(use(transaction.objectStore(ARRANGEMENTS)))
    await new Promise<void>((resolve, reject) => {
      transaction.oncomplete = () => resolve()
      // Where there is no room, it says so only when it is to be kept.
      transaction.onabort = () => reject(transaction.error ?? new Error('IndexedDB kept nothing.'))
    })
    return answer
  } finally {
    database.close()
  }
}

const answerOf = <T>(request: IDBRequest<T>): Promise<T> =>
  new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result)
    request.onerror = () => reject(request.error ?? new Error('IndexedDB does not answer.'))
  })
