import { delay, type Service } from './service.ts'

/** After an event it is waited so long for others, so that many are looked at together. */
const TOGETHER_MS = 200
/** Pauses before a line on which events come is opened anew. */
const PAUSES_MS = [1000, 2000, 5000, 15_000, 30_000]

export interface Watching {
  /** Seconds after which is looked again; null: not by the clock. */
  readonly every: number | null
  /** Where the service tells of changes; null: nowhere. */
  readonly events: string | null
}

/** The page, where there is one. */
const { document: page } = globalThis as {
  readonly document?: EventTarget & { readonly visibilityState: string }
}

/** A page that nobody looks at asks nothing. */
const isSeen = (): boolean => page?.visibilityState !== 'hidden'

/**
 * Has rows looked at that others may have changed: by the clock, and when the service tells of changes. One look at a
 * time; what is told meanwhile is looked at after it, and what is told while nobody looks at the page when somebody does.
 */
export function watchService(
  service: Service,
  { every, events }: Watching,
  look: (signal: AbortSignal) => Promise<void>,
  signal: AbortSignal,
): void {
  let wanted = false
  let looking = false

  async function lookSoon(): Promise<void> {
    wanted = true
    if (looking || !isSeen()) return
    looking = true
    try {
      while (wanted && !signal.aborted) {
        await delay(TOGETHER_MS, signal)
        wanted = false
        // A line that fails is told of where it fails.
        await look(signal).catch(() => {})
      }
    } catch {
      // It was closed meanwhile.
    } finally {
      looking = false
    }
  }

  async function byClock(ms: number): Promise<void> {
    for (;;) {
      await delay(ms, signal)
      if (isSeen()) await lookSoon()
    }
  }

  async function byEvents(path: string): Promise<void> {
    for (let failed = 0; ; failed++) {
      const opened = await service.listen(path, () => void lookSoon(), signal).catch(() => false)
      if (signal.aborted) return
      if (opened) failed = 0
      await delay(PAUSES_MS[Math.min(failed, PAUSES_MS.length - 1)], signal)
      // What was told while the line was closed nobody has heard.
      if (opened) void lookSoon()
    }
  }

  const seenAgain = (): void => {
    if (isSeen() && wanted) void lookSoon()
  }
  page?.addEventListener('visibilitychange', seenAgain, { signal })
  if (every !== null) byClock(every * 1000).catch(() => {})
  if (events !== null) byEvents(events).catch(() => {})
}
