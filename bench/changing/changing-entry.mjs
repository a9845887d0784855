// A grid whose rows are typed into and change by themselves, beside the barest page that does the same.
import { mountMeadow } from '../../packages/grid/dist/index.js'
import { recipe } from '../engine/data.mjs'

const placement = { worker: () => new Worker('/worker.js', { type: 'module' }) }
const COLUMNS = [
  'id',
  'species',
  'site',
  'state',
  'count',
  'cover',
  'height',
  'ph',
  'temperature',
  'elevation',
]

const host = () => {
  document.body.replaceChildren()
  const element = document.createElement('div')
  element.style.height = '100%'
  document.body.append(element)
  return element
}
const pause = ms => new Promise(resolve => setTimeout(resolve, ms))
/** Resolves when what was written before is painted. */
const painted = () =>
  new Promise(resolve => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => resolve(performance.now())
    requestAnimationFrame(() => port2.postMessage(0))
  })

let handle = null

/** Mounts a grid over so many rows; `busy`: ordered, narrowed and grouped with summaries. */
globalThis.mountRows = async (rows, busy) => {
  handle?.unmount()
  const start = {
    order: [{ column: 'cover', direction: 'descending' }],
    conditions: { cover: { match: 'all', parts: [{ kind: 'range', from: 5 }] } },
    groups: [{ column: 'site', bucket: { by: 'value' } }],
    summaries: { cover: 'mean', count: 'sum', height: 'maximum' },
  }
  handle = mountMeadow(host(), {
    definition: {
      format: 'vast-meadow-grid',
      version: 3,
      key: 'id',
      columns: COLUMNS.map(key => ({ key, title: key, width: 110, ...(key !== 'id' && { edit: {} }) })),
      editing: { leaving: false },
      ...(busy && { start }),
    },
    source: { kind: 'recipe', recipe: recipe(rows) },
    placement,
  })
  await handle.ready
  await pause(1500)
  globalThis.handle = handle
}

/** A bare field in the place of the grid. */
globalThis.mountField = () => {
  handle?.unmount()
  handle = null
  const field = document.createElement('input')
  field.className = 'edit-field'
  host().append(field)
  field.focus()
}

/** Times each key from the event that the browser made to the frame that shows what it did. */
globalThis.timeKeys = () => {
  globalThis.keyTimes = []
  globalThis.stopTiming?.()
  const listen = event => {
    const { timeStamp } = event
    void painted().then(at => globalThis.keyTimes.push(at - timeStamp))
  }
  addEventListener('keydown', listen, true)
  globalThis.stopTiming = () => removeEventListener('keydown', listen, true)
}

const cellsOf = (rows, columns) =>
  Array.from({ length: rows }, (_, row) =>
    Array.from({ length: columns }, (_, column) => (row * 31 + column * 7) % 97).join('\t'),
  ).join('\n')

/** Milliseconds until so many cells that are pasted are pending and painted, and until the text alone is taken apart and kept. */
globalThis.paste = async (rows, columns) => {
  const text = cellsOf(rows, columns)
  const started = performance.now()
  const kept = new Map()
  for (const [row, line] of text.split('\n').entries())
    for (const [column, cell] of line.split('\t').entries()) kept.set(`${row} ${column}`, Number(cell))
  const bare = performance.now() - started
  let longest = 0
  const observer = new PerformanceObserver(list => {
    for (const { duration } of list.getEntries()) longest = Math.max(longest, duration)
  })
  observer.observe({ type: 'longtask' })
  const root = document.body.firstChild.shadowRoot
  const view = root.querySelector('.viewport') ?? root.querySelector('[role=grid]')
  const data = new DataTransfer()
  data.setData('text/plain', text)
  const from = performance.now()
  view.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  const wanted = rows * columns
  while (handle.pendingCounts.cells < wanted * 0.9) await pause(4)
  const ours = (await painted()) - from
  await pause(1500)
  observer.disconnect()
  const cells = handle.pendingCounts.cells
  const back = performance.now()
  handle.discardChanges()
  await painted()
  return { bare, ours, longest, cells, discardMs: performance.now() - back }
}

/**
 * So many changes a second for some seconds, as they come from a stream: one call a frame. Answers how long each took until
 * it was shown, how many frames were late, and whether all of them are there.
 */
globalThis.stream = async (rows, perSecond, seconds) => {
  // The index of the keys is made with the first change.
  await handle.commit({ update: [{ id: 100_000, cover: 50 }] })
  await pause(500)
  const gaps = []
  const latencies = []
  const waiting = []
  const written = new Map()
  let sent = 0
  let last = 0
  let state = 1
  const next = most => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff
    return state % most
  }
  const started = performance.now()
  await new Promise(resolve => {
    const frame = now => {
      if (last > 0) gaps.push(now - last)
      last = now
      const elapsed = (performance.now() - started) / 1000
      if (elapsed >= seconds) return resolve()
      const due = Math.floor(elapsed * perSecond) - sent
      if (due > 0) {
        const update = Array.from({ length: due }, () => {
          const row = { id: 100_000 + next(rows), cover: next(10_000) / 100, count: next(500) }
          written.set(row.id, row)
          return row
        })
        sent += due
        const from = performance.now()
        waiting.push(handle.commit({ update }).then(() => latencies.push(performance.now() - from)))
      }
      requestAnimationFrame(frame)
    }
    requestAnimationFrame(frame)
  })
  await Promise.all(waiting)
  const shownMs = performance.now() - started
  const keys = [...written.keys()].slice(-500)
  const ids = await handle.source.ask('findRows', { keyFields: ['id'], keys })
  const records = await handle.source.ask('records', { rows: ids })
  const lost = records.filter((record, nth) => {
    const row = record.row ?? record
    return Math.abs((row.cover ?? NaN) - written.get(keys[nth]).cover) > 1e-9
  }).length
  const late = gaps.filter(gap => gap > 25).reduce((sum, gap) => sum + Math.round(gap / 16.7) - 1, 0)
  return { sent, lost, latencies, late, frames: gaps.length + late, shownMs }
}
