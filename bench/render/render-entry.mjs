// Both renderers over the same rows, for the scripted steps of render.mjs.
import { cellMakers, recipeSchema, shower } from '../../packages/engine/dist/index.js'
import { mountMeadow } from '../../packages/grid/dist/index.js'
import { recipe } from '../engine/data.mjs'
import { mountBare } from './bare-loop.mjs'

const WIDTH = 104
const ROW_HEIGHT = 31
const HEAD_HEIGHT = 33
const base = recipe(1_000_000)
/** A column under another name; one that is made from another refers to the copy of that one. */
const copyOf = (column, copy) => ({
  ...column,
  key: `${column.key}${copy}`,
  ...(column.kind === 'within' && { column: `${column.column}${copy}` }),
})
/** The table's columns three times over, so that there is something to scroll to. */
const wide = {
  ...base,
  columns: [0, 1, 2].flatMap(copy => base.columns.map(column => copyOf(column, copy))),
}
const makers = cellMakers(recipeSchema.parse(wide))
const shows = makers.map(maker => shower(maker.field))
const keys = wide.columns.map(column => column.key)
const definition = {
  format: 'vast-meadow-grid',
  version: 3,
  columns: keys.map(key => ({ key, title: key, width: WIDTH })),
}

/** Cells as they are in a grid that people use: every third column a bar, a badge or a check mark. */
const CELLS = {
  cover: { kind: 'bar', low: 0, high: 100 },
  state: { kind: 'badge', tones: { seen: 'heather', confirmed: 'moss', doubtful: 'straw' } },
  seen: { kind: 'check' },
}
const mixed = {
  ...definition,
  columns: definition.columns.map(column => ({ ...column, cell: CELLS[column.key.slice(0, -1)] })),
}

const host = () => {
  document.body.replaceChildren()
  const element = document.createElement('div')
  element.style.height = '100%'
  document.body.append(element)
  return element
}

const painted = () =>
  new Promise(resolve => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => resolve()
    requestAnimationFrame(() => port2.postMessage(0))
  })

const mounts = {
  bare: async () => {
    const element = host()
    // The same box for the body: the grid's bar and foot take these heights.
    element.style.cssText = 'height:calc(100% - 80px)'
    const mounted = mountBare(element, {
      rows: 1_000_000,
      widths: [38, ...keys.map(() => WIDTH)],
      rowHeight: ROW_HEIGHT,
      headHeight: HEAD_HEIGHT,
      text: (row, c) => (c === 0 ? '' : shows[c - 1](makers[c - 1].value(row))),
    })
    await painted()
    return mounted
  },
  meadow: () => mountGrid(definition),
  mix: () => mountGrid(mixed),
  bareHeads: async () => {
    const element = host()
    element.style.cssText = 'height:calc(100% - 115px)'
    const mounted = mountBare(element, {
      rows: GROUPED_ROWS,
      widths: [38, ...base.columns.map(() => WIDTH)],
      rowHeight: ROW_HEIGHT,
      headHeight: HEAD_HEIGHT,
      text: (row, c) => (c === 0 ? '' : shows[c - 1](makers[c - 1].value(row))),
      headOf: line => (line % INNER === 0 ? headAt(line, line % OUTER === 0 ? 0 : 1) : null),
      around: line => [headAt(line - (line % OUTER), 0), headAt(line - (line % INNER), 1)],
    })
    await painted()
    return mounted
  },
  columns10: () => mountColumns(10),
  columns1000: () => mountColumns(1000),
  grouped: () =>
    mountGrid(
      {
        ...definition,
        columns: base.columns.map(({ key }) => ({ key, title: key, width: WIDTH })),
        start: GROUPED,
      },
      { kind: 'recipe', recipe: recipe(GROUPED_ROWS) },
      { engine: 'page' },
    ),
}

/** Rows that are grouped in two levels of heads, and about so many lines to a group. */
const GROUPED_ROWS = 100_000
const [OUTER, INNER] = [2400, 18]
const SUMMED = ['cover', 'height', 'count']
const GROUPED = {
  groups: ['site', { column: 'day', bucket: { by: 'date', part: 'month' } }],
  summaries: { cover: 'mean', height: 'maximum', count: 'sum' },
}
const headAt = (line, level) => ({
  name: `${level} ${line}`,
  text: `Group ${line} of level ${level} · ${level === 0 ? OUTER : INNER} rows`,
  end: line + (level === 0 ? OUTER : INNER),
  sums: SUMMED.map(key => [
    base.columns.findIndex(column => column.key === key) + 1,
    String((line * 7919) % 1000),
  ]),
})

/** The same ten columns in view, and so many in all. */
function mountColumns(count) {
  const columns = Array.from({ length: count }, (_, i) => ({ ...base.columns[5], key: `n${i}` }))
  return mountGrid(
    { ...definition, columns: columns.map(({ key }) => ({ key, title: key, width: WIDTH })) },
    { kind: 'computed', recipe: { ...base, columns } },
  )
}

/** Milliseconds of a length map over rows in a worker, and of a bare pass over as many that counts one bit of each. */
globalThis.lengthMap = async rows => {
  mounted?.unmount()
  const element = host()
  const handle = mountMeadow(element, {
    definition: { ...definition, columns: definition.columns.slice(0, base.columns.length) },
    source: {
      kind: 'recipe',
      recipe: { ...wide, rows, columns: wide.columns.slice(0, base.columns.length) },
    },
    placement: { worker: () => new Worker('/worker.js', { type: 'module' }) },
  })
  mounted = { unmount: () => handle.unmount() }
  await handle.ready
  handle.arrange({ order: [{ column: 'day0', direction: 'ascending' }] })
  await new Promise(resolve => setTimeout(resolve, 3000))
  const STEPS_OF_MAP = 600
  const words = new Uint32Array(1024).fill(0x10101010)
  const chunks = Array.from({ length: Math.ceil(rows / 32768) }, (_, number) => ({
    number,
    bits: words.slice(),
  }))
  const asked = {
    view: handle.viewId,
    steps: STEPS_OF_MAP,
    selected: { chunks, names: [] },
    rules: [],
    course: 'day0',
    search: '',
    searchColumns: [],
  }
  const times = { ours: [], bare: [] }
  const order = Uint32Array.from({ length: rows }, (_, i) => (i * 7919) % rows)
  const bits = new Uint32Array(Math.ceil(rows / 32)).fill(0x10101010)
  for (let round = 0; round < 9; round++) {
    let started = performance.now()
    await handle.source.ask('lengthMap', asked)
    times.ours.push(performance.now() - started)
    started = performance.now()
    const counts = new Uint32Array(STEPS_OF_MAP)
    const all = new Uint32Array(STEPS_OF_MAP)
    for (let i = 0; i < rows; i++) {
      const step = Math.floor((i * STEPS_OF_MAP) / rows)
      const row = order[i]
      all[step]++
      if ((bits[row >>> 5] >>> (row & 31)) & 1) counts[step]++
    }
    times.bare.push(performance.now() - started)
  }
  return times
}

async function mountGrid(definition, source = { kind: 'computed', recipe: wide }, placement = undefined) {
  const element = host()
  const handle = mountMeadow(element, { definition, source, placement })
  await handle.ready
  await painted()
  return { scroller: element.shadowRoot.querySelector('.scroller'), unmount: () => handle.unmount() }
}

let mounted = null

globalThis.mount = async name => {
  mounted?.unmount()
  const started = performance.now()
  mounted = await mounts[name]()
  return performance.now() - started
}

/** The pointer that drags the edge of a column. */
const pointer = (type, x, y) =>
  new PointerEvent(type, { clientX: x, clientY: y, pointerId: 1, button: 0, bubbles: true, composed: true })

/** Takes the edge of a column in the middle of the view; each step drags it on by a px, there and back. */
function edgeStep(scroller, i) {
  const root = scroller.getRootNode()
  const heading = [...root.querySelectorAll('.head .cell[data-column]')].filter(cell =>
    cell.checkVisibility(),
  )[3]
  if (i === 0) {
    const { right, top } = heading.getBoundingClientRect()
    scroller.held = { grip: heading.querySelector('.grip'), x: right - 2, y: top + 10 }
    scroller.held.grip.setPointerCapture = () => {}
    scroller.held.grip.dispatchEvent(pointer('pointerdown', scroller.held.x, scroller.held.y))
    return
  }
  const { grip, x, y } = scroller.held
  grip.dispatchEvent(pointer('pointermove', x + (i % 24), y))
}

const STEPS = {
  edge: edgeStep,
  wheel: (s, i) => (s.scrollTop = 5000 + i * 100),
  page: (s, i) => (s.scrollTop = 20_000 + i * (s.clientHeight - 40)),
  jump: (s, i) => (s.scrollTop = ((i * 7919) % 120) * 30_000),
  column: (s, i) => (s.scrollLeft = (i % 12) * 104),
}

/** Milliseconds of our longest script on the page while a million rows in a worker are ordered by two columns. */
globalThis.longestTask = async rows => {
  mounted?.unmount()
  const element = host()
  const handle = mountMeadow(element, {
    definition: { ...definition, columns: definition.columns.slice(0, base.columns.length) },
    source: {
      kind: 'recipe',
      recipe: { ...wide, rows, columns: wide.columns.slice(0, base.columns.length) },
    },
    placement: { worker: () => new Worker('/worker.js', { type: 'module' }) },
  })
  mounted = { unmount: () => handle.unmount() }
  await handle.ready
  let longest = 0
  new PerformanceObserver(list => {
    for (const { scripts } of list.getEntries())
      for (const { duration } of scripts) longest = Math.max(longest, duration)
  }).observe({ type: 'long-animation-frame' })
  for (const column of ['species0', 'day0']) {
    await new Promise(resolve => setTimeout(resolve, 500))
    const shown = new Promise(resolve => {
      const stop = handle.on('flow', () => {
        stop()
        resolve()
      })
    })
    handle.arrange({ order: [{ column, direction: 'ascending' }] })
    await shown
  }
  await new Promise(resolve => setTimeout(resolve, 500))
  return longest
}

/** Milliseconds of main-thread work for each of `frames` steps: from the write until the frame was painted. */
globalThis.steps = async (kind, frames) => {
  const { scroller } = mounted
  STEPS[kind](scroller, 0)
  await new Promise(resolve => setTimeout(resolve, 250))
  const times = []
  for (let i = 1; i <= frames; i++) {
    // The time is taken inside the frame: waiting for the next one does not count.
    const time = await new Promise(resolve => {
      requestAnimationFrame(() => {
        const started = performance.now()
        STEPS[kind](scroller, i)
        const { port1, port2 } = new MessageChannel()
        // The scroll event comes at the start of the next frame, its paint before the next task after it.
        requestAnimationFrame(() => {
          const before = performance.now()
          port1.onmessage = () => resolve({ script: before - started, frame: performance.now() - started })
          port2.postMessage(0)
        })
      })
    })
    times.push(time.frame)
  }
  return times
}
