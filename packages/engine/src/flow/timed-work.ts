import type { Work } from '../work/work.ts'

/** Runs work and tells its milliseconds, without the pauses between its slices. */
export function* timedWork<T>(work: Work<T>): Work<{ readonly value: T; readonly ms: number }> {
  let ms = 0
  for (;;) {
    const started = performance.now()
    const step = work.next()
    ms += performance.now() - started
    if (step.done) return { value: step.value, ms }
    yield
  }
}
