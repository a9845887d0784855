const TICK_MS = 50
const MOST_A_SECOND = 50_000

/**
 * A stream to try with, as server-sent events: so many changes a second (`rate`), several in each event. A change says by
 * three numbers from 0 to 1 which row, which of its columns, and where between its smallest and largest value.
 */
export default defineEventHandler(event => {
  const rate = Math.min(MOST_A_SECOND, Math.max(0, Number(getQuery(event).rate) || 0))
  const stream = createEventStream(event)
  let owed = 0
  const timer = setInterval(() => {
    owed += (rate * TICK_MS) / 1000
    const count = Math.floor(owed)
    owed -= count
    if (count === 0) return
    const changes = Array.from({ length: count }, () => [Math.random(), Math.random(), Math.random()])
    void stream.push(JSON.stringify(changes))
  }, TICK_MS)
  stream.onClosed(async () => {
    clearInterval(timer)
    await stream.close()
  })
  return stream.send()
})
