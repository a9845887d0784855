import { countRows } from '@vast-meadow/engine/client'
import type { PackedRows } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { ExportOptions } from './export-options.ts'
import type { ExportViewHost } from './export-view.ts'

/** Bytes that are put together before the browser may lay them aside. */
const BYTES_A_PIECE = 16 << 20

const TYPES = {
  csv: 'text/csv',
  json: 'application/json',
  ndjson: 'application/x-ndjson',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  parquet: 'application/vnd.apache.parquet',
  arrow: 'application/vnd.apache.arrow.file',
} as const

/** Of the grid's handle: rows taken away as a file. */
export interface ExportsHandle {
  /** The file as a stream of its bytes; worked out as it is read, so that no more of it is held. */
  exportStream(options?: ExportOptions): ReadableStream<Uint8Array<ArrayBuffer>>
  /** The file as a whole. */
  exportFile(options?: ExportOptions): Promise<Blob>
}

/** Rows are taken away as a file, from code and, where the definition offers formats, by a button. */
export function exports(kernel: Kernel): Feature {
  const { model, texts, bar, frame, features, format, announcer, disposal } = kernel

  /** What writes files is loaded when the first is asked for; a part is worked out when it is read, and nothing more is held. */
  function exportStream(options: ExportOptions): ReadableStream<Uint8Array<ArrayBuffer>> {
    let parts: AsyncIterator<Uint8Array<ArrayBuffer>> | null = null
    const rows = ticked()
    return new ReadableStream<Uint8Array<ArrayBuffer>>(
      {
        async pull(controller) {
          const { exportedBytes } = await import('./exported-bytes.ts')
          parts ??= exportedBytes(kernel, options, rows)[Symbol.asyncIterator]()
          const next = await parts.next()
          if (next.done) controller.close()
          else controller.enqueue(next.value)
        },
        async cancel() {
          await parts?.return?.()
        },
      },
      { highWaterMark: 1 },
    )
  }

  const ticked = (): PackedRows | null =>
    features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null) ?? null

  async function exportFile(options: ExportOptions = {}): Promise<Blob> {
    const pieces: Blob[] = []
    let held: Uint8Array<ArrayBuffer>[] = []
    let bytes = 0
    const lay = (): void => {
      pieces.push(new Blob(held))
      held = []
      bytes = 0
    }
    const reader = exportStream(options).getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) break
      held.push(value)
      bytes += value.length
      if (bytes > BYTES_A_PIECE) lay()
    }
    lay()
    return new Blob(pieces, { type: TYPES[options.format ?? 'csv'] })
  }

  async function save(options: ExportOptions, told: (part: number) => void): Promise<void> {
    const file = await exportFile({
      ...options,
      onProgress: ({ done, of }) => told(of > 0 ? Math.min(1, done / of) : 1),
    })
    const link = make('a', '', frame)
    link.href = URL.createObjectURL(file)
    link.download = `${fileName(model.definition?.title ?? '')}.${options.format ?? 'csv'}`
    link.click()
    link.remove()
    // The browser may still read it.
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
    announcer.say(texts.exported(link.download))
  }

  const button = make('button', 'button')
  button.type = 'button'
  button.textContent = texts.export
  button.hidden = true
  button.ariaExpanded = 'false'
  button.setAttribute('aria-haspopup', 'dialog')
  bar.addAtEnd(button)
  const viewHost: ExportViewHost = {
    formats: () => model.definition?.exports ?? [],
    grouped: () => model.arrangement.groups.length > 0,
    counts() {
      const { passing = 0, total = 0 } = kernel.report ?? {}
      const rows = ticked()
      const selected = rows ? countRows({ kind: 'set', ...rows }) : 0
      return {
        passing: format(passing),
        selected: selected > 0 ? format(selected) : null,
        all: total > passing ? format(total) : null,
      }
    },
    save,
  }
  const view = kernel.whenUsed.add(
    () => import('./export-view.ts'),
    ({ ExportView }) => new ExportView(frame, texts, viewHost, disposal),
    () => !button.hidden,
  )
  disposal.listen(button, 'click', () => view.use(one => one.toggle(button)))
  const show = (): void => {
    button.hidden = (model.definition?.exports.length ?? 0) === 0 || !model.canTell('exportText')
  }

  const handle: ExportsHandle = {
    exportStream: (options = {}) => exportStream(options),
    exportFile,
  }
  return { name: 'exports', handle, defined: show, viewed: show }
}

/** A file's name of letters, digits and hyphens. */
const fileName = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'rows'
