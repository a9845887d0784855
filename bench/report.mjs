// RESULTS.md from results.json. The notes at its end are kept in NOTES.md and are ours to write.
import { readFileSync } from 'node:fs'

const TARGETS = { engine: 2, computed: 5, wheel: 1.3, mount: 1.5, more: 0.5, first: 1.5 }
const ms = value => (value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2))
const times = value => (typeof value !== 'number' ? '–' : `${value.toFixed(2)}×`)
const mark = (value, most) => (typeof value !== 'number' ? '' : value <= most ? 'met' : '**missed**')

/** The ratio of the rounds; of the medians where rounds were not paired. */
const ratioOf = o => o.meadow.ratio ?? o.meadow.median / o.floor.median

/** Computed columns shall take a few passes over a column; all else twice its floor. */
const targetOf = name => (name.startsWith('computed column') ? TARGETS.computed : TARGETS.engine)

/** What an operation's figures hold besides rivals. */
const OURS = new Set([
  'floor',
  'meadow',
  'helped',
  'megabytes',
  'first',
  'more',
  'lifted',
  'opened',
  'changed',
  'table',
  'search',
  'median',
])

function engineTable(operations) {
  const rivals = [...new Set(Object.values(operations).flatMap(o => Object.keys(o)))].filter(
    name => !OURS.has(name),
  )
  const split = Object.values(operations).some(o => o.floor && o.helped)
  const head = [
    'operation',
    'floor ms',
    'ours ms',
    'p95',
    'ours / floor',
    'target ≤ 2× (computed: 5×)',
    ...(split ? ['two threads ms', 'two / one'] : []),
    ...rivals.map(r => `ours / ${r}`),
  ]
  const rows = Object.entries(operations)
    .filter(([, o]) => o.floor && o.meadow)
    .map(([name, o]) => [
      name,
      ms(o.floor.median),
      ms(o.meadow.median),
      ms(o.meadow.p95),
      times(ratioOf(o)),
      name === 'read CSV' ? '' : mark(ratioOf(o), targetOf(name)),
      ...(split
        ? [o.helped ? ms(o.helped.median) : '', o.helped ? times(o.helped.ratio / o.meadow.ratio) : '']
        : []),
      ...rivals.map(r => times(o[r]?.oursTo)),
    ])
  return table(head, rows)
}

function changeTable(operations) {
  const rows = Object.entries(operations)
    .filter(([, o]) => o.first)
    .map(([name, o]) => {
      const [, after] = Object.entries(o).find(([key]) => key !== 'first')
      return [name, ms(o.first.median), ms(after.median), times(after.ratio), mark(after.ratio, TARGETS.more)]
    })
  return table(['change', 'the whole, ms', 'the change, ms', 'ratio', 'target ≤ 0.5×'], rows)
}

const table = (head, rows) =>
  [head, head.map(() => '---'), ...rows].map(cells => `| ${cells.join(' | ')} |`).join('\n')

function growth(byRows) {
  const sizes = Object.keys(byRows)
    .map(Number)
    .sort((a, b) => a - b)
  if (sizes.length < 2) return ''
  const [first, last] = [sizes[0], sizes.at(-1)]
  const rows = Object.entries(byRows[first])
    .filter(([name, o]) => o.floor && name !== 'read CSV' && byRows[last][name])
    .map(([name, o]) => {
      const perRow = byRows[last][name].meadow.median / last / (o.meadow.median / first)
      return [name, times(perRow), mark(perRow, 2)]
    })
  return `\n### Growth from ${first.toLocaleString('en')} to ${last.toLocaleString('en')} rows, time per row\n\n${table(['operation', 'per row', 'target ≤ 2×'], rows)}\n`
}

function readingReport({ replace, table: { rows: read, columns }, ...formats }) {
  const rows = Object.entries(formats).map(([name, r]) => [
    name,
    (r.megabytes / (r.meadow.median / 1000)).toFixed(0),
    ms(r.meadow.median),
    r.parser,
    ms(r[r.parser].median),
    times(r.meadow.ratio),
    r.bytesPerRow,
    r.heapPerRow > 0 ? r.heapPerRow : '–',
  ])
  const head = ['format', 'MB/s', 'ours ms', 'beside', 'its ms', 'ratio', 'bytes a row', 'its bytes a row']
  const { readAllMs, sameObjectsMs, copiedObjectsMs } = replace
  return [
    `## Reading, Node, one thread, ${read.toLocaleString('en')} rows × ${columns} columns`,
    table(head, rows),
    'Ours ends with typed columns, types inferred over all values; the parsers beside it end with objects, or vectors turned into objects, whose values are as the format has them.',
    `A million row objects of eight fields handed over anew with 100 changed: ${ms(sameObjectsMs)} ms where the others are the same objects, ${ms(copiedObjectsMs)} ms where all are copies; reading all of them takes ${ms(readAllMs)} ms.`,
  ].join('\n\n')
}

const mbPerS = ({ megabytes }, { median }) => (megabytes / (median / 1000)).toFixed(0)

function exportsReport({ rows, formats }) {
  const speed = ({ seconds, megabytes }) => (megabytes / seconds).toFixed(0)
  const lines = Object.entries(formats).map(([name, { duckdb, ...ours }]) => [
    name,
    ours.seconds.toFixed(1),
    ours.megabytes.toFixed(0),
    speed(ours),
    duckdb ? duckdb.seconds.toFixed(1) : '–',
    duckdb ? duckdb.megabytes.toFixed(0) : '–',
    duckdb ? speed(duckdb) : '–',
    duckdb ? times(ours.seconds / duckdb.seconds) : '–',
  ])
  const head = ['format', 's', 'MB', 'MB/s', 'DuckDB s', 'its MB', 'its MB/s', 'ours / its']
  return [
    `## Writing files, Node, ${rows.toLocaleString('en')} rows × 24 columns`,
    table(head, lines),
    'Ours runs in one thread and gives way to other work every few milliseconds; DuckDB’s `copy` runs in two.',
  ].join('\n\n')
}

/** A handler's answer may take so much longer than its statement: milliseconds, and a part of the statement's. */
const OVERHEAD = { ms: 15, part: 0.1 }

function serviceReport({ duckdb, cluster }) {
  const tables = [
    ...duckdb.map(one => ['DuckDB in the process', one]),
    ...(cluster ? [['PostgreSQL, a coordinator and three shards', cluster]] : []),
  ].map(([engine, { rows, figures }]) => {
    const lines = Object.entries(figures).map(([name, { first, statement, handler }]) => [
      name,
      first,
      ms(statement),
      ms(handler),
      handler - statement <= OVERHEAD.ms + OVERHEAD.part * statement ? 'yes' : 'no',
    ])
    const head = ['question', 'first ms', 'statement ms', 'answer ms', '≤ 15 ms + 10 %']
    return `### ${engine}, ${rows.toLocaleString('en')} rows\n\n${table(head, lines)}`
  })
  const scrolled = duckdb.flatMap(({ rows, scroll }) =>
    Object.entries(scroll?.speeds ?? {}).map(([speed, { share, questions, frames }]) => [
      rows.toLocaleString('en'),
      Number(speed).toLocaleString('en'),
      `${(share * 100).toFixed(1)} %`,
      questions,
      frames,
    ]),
  )
  const scrolling = [
    `### Scrolling through it in Chromium, with ${duckdb[0].scroll?.latencyMs ?? 0} ms of line between`,
    'Of the lines in view, frame by frame, those that were not there yet, for six seconds; the rows lie on DuckDB.',
    table(['rows', 'px a second', 'lines not there', 'questions', 'frames'], scrolled),
  ]
  return [
    '## A table that the server serves, × 8 columns',
    'Answer: the handler’s, from the request until its last byte, without a line between. Statement: the same one, bare, in the same engine, in turn with it. First: the question put for the first time, for a jump with its order looked up.',
    ...tables,
    ...(scrolled.length > 0 ? scrolling : []),
  ].join('\n\n')
}

const percent = share => `${Math.round(share * 100)} %`

function changingReport({ rows, paste, streams, ...typed }) {
  const { bare, meadow, onward } = typed['keystroke to paint']
  const lines = Object.entries(streams).map(([rate, told]) => [
    Number(rate).toLocaleString('en'),
    told.sent.toLocaleString('en'),
    told.lost,
    ms(told.latency.median),
    ms(told.latency.p95),
    percent(told.late),
    percent(told.page),
    percent(told.worker),
  ])
  const head = [
    'changes a second',
    'sent',
    'lost',
    'shown after ms',
    'p95',
    'frames lost',
    'page busy',
    'worker busy',
  ]
  return [
    `## Rows that change, ${rows.toLocaleString('en')} of them in a worker, in Chromium`,
    `A key in an open editor is painted after ${ms(meadow.median)} ms, ${times(meadow.ratio)} of a bare field in the same page (${ms(bare.median)}); a key that opens an editor, or takes what is typed and goes on, after ${ms(onward.median)} (p95 ${ms(onward.p95)}).`,
    `${paste.cells.toLocaleString('en')} cells pasted are there and painted after ${ms(paste.ours)} ms, the longest task ${ms(paste.longest)}; to take the text apart and keep its numbers alone takes ${ms(paste.bare)}.`,
    table(head, lines),
    'Changes of two cells each, by key, one call a frame, over rows that are ordered by one of them, narrowed by it, grouped and summed up in three columns. Shown after: from the call until the view with it stands.',
  ].join('\n\n')
}

export function writeReport({
  machine,
  node = {},
  chromium = {},
  reading,
  exports,
  service,
  render,
  first,
  changing,
}) {
  const parts = [
    '# Results',
    `Written by \`npm run bench\` on ${machine.when}: ${machine.cpus} cores (${machine.model}), Node ${machine.node}${machine.quick ? ', quick run' : ''}. Absolute times drift on this machine by a factor of two from hour to hour; read the ratios, which are taken in the same round. \`floor\` is the bare loop in \`bench/engine/bare.mjs\` with its indexes ready; ours starts cold where it orders and groups. Rivals run the same question on the same rows and answer with row ids; they run after ours, not in turn with it.`,
  ]
  for (const [where, byRows] of [
    ['Chromium worker', chromium],
    ['Node', node],
  ]) {
    for (const [rows, operations] of Object.entries(byRows)) {
      parts.push(`## ${where}, ${Number(rows).toLocaleString('en')} rows`, engineTable(operations))
      const built = operations['(search index built)']
      if (built)
        parts.push(
          `The search index over all columns, built in the background, took ${ms(built.meadow.median)} ms${built.helped ? `, by two threads ${ms(built.helped.median)} ms` : ''}.`,
        )
      const bytes = operations['(bytes a row)']
      if (bytes)
        parts.push(
          `Bytes a row: ${bytes.table.toFixed(0)} in the table, ${bytes.search.toFixed(0)} more in the texts that search runs over.`,
        )
      const csv = operations['read CSV']
      if (csv)
        parts.push(
          `CSV: ${mbPerS(csv, csv.meadow)} MB/s with types inferred over the whole file${csv.helped ? `, ${mbPerS(csv, csv.helped)} by two threads, which is what stands beside the rivals` : ''}.`,
        )
      parts.push(changeTable(operations))
    }
    parts.push(growth(byRows))
  }
  if (reading) parts.push(readingReport(reading))
  if (exports) parts.push(exportsReport(exports))
  if (service) parts.push(serviceReport(service))
  if (render) {
    const rows = Object.entries(render)
      .filter(([, r]) => r.bare)
      .map(([name, r]) => {
        const most = name.startsWith('mount') ? TARGETS.mount : TARGETS.wheel
        return [
          name,
          ms(r.bare.median),
          ms(r.meadow.median),
          ms(r.meadow.p95),
          r.scriptMs ? ms(r.scriptMs) : '',
          times(r.meadow.ratio),
          times(r.meadow.ratioP95),
          `${mark(r.meadow.ratio, most)} (≤ ${most}×)`,
          r.mix ? times(r.mix.ratio) : '–',
        ]
      })
    parts.push(
      '## Renderer, 1,000,000 rows × 30 columns, beside a bare loop of recycled elements',
      table(
        ['step', 'bare ms', 'ours ms', 'p95', 'script ms', 'ratio', 'ratio p95', 'target', 'mixed cells'],
        rows,
      ),
      `Main-thread time per step, from the browser's trace. The bare loop has no header, no pinned part, no boxes to select rows and no roles. The mixed cells, every third column a bar, a badge or a check mark, stand beside the same loop of plain text. Elements drawn with them: ${render.elements.meadow}. Our longest script on the page while a million rows are ordered in a worker: ${render.longestScriptMs} ms (0: none was in a frame over 50 ms).`,
    )
  }
  if (first)
    parts.push(
      '## First paint of 10,000 rows from a cold page',
      `By \`mountFirst\`: ${times(first.first)} of a bare table of the same window (${ms(first.bare)} ms), ${mark(first.first, TARGETS.first)} (≤ ${TARGETS.first}×); the grid has taken over after ${times(first.grid)}. By \`mountMeadow\`: ${times(first.ratio)} (${ms(first.meadow)} ms).`,
    )
  if (changing) parts.push(changingReport(changing))
  parts.push(readFileSync(new URL('NOTES.md', import.meta.url), 'utf8').trim())
  return parts.filter(Boolean).join('\n\n') + '\n'
}
