import { readArrangement } from '@vast-meadow/engine/client'
import type { KernelHandle } from './handle.ts'
import type { Kernel } from './kernel.ts'
import { plainJson } from './plain-json.ts'
import { ArrangementError } from './problem.ts'

/** Among the first lines, so many stand for each row: heads of groups and what else is no row. */
const LINES_A_ROW = 4

/** What the kernel offers from code. */
export function kernelHandle(kernel: Kernel): KernelHandle {
  const { model } = kernel

  return {
    get ready() {
      return kernel.ready
    },
    get arrangement() {
      return model.arrangement
    },
    get definition() {
      return model.definition
    },
    get description() {
      return model.description
    },
    get report() {
      return kernel.report
    },
    get measures() {
      return kernel.screen.measures
    },
    get expressionProblems() {
      return kernel.wrongExpressions
    },
    get source() {
      return model.source
    },
    get viewId() {
      return kernel.view?.id ?? null
    },
    arrange(change, why = 'code') {
      const read = readArrangement(plainJson(change), model.definition?.columns.map(({ key }) => key) ?? null)
      if (!read.ok) {
        const error = new ArrangementError(read.problems)
        kernel.failed(error)
        throw error
      }
      return model.apply(read.arrangement, why)
    },
    setRows: (rows, definition) => kernel.setRows(rows, definition),
    commit: changes => kernel.changes.commit(changes),
    async refresh() {
      await model.source?.refresh?.()
    },
    setDefinition: definition => kernel.setDefinition(definition),
    setAllow(allow) {
      kernel.allow = allow
    },
    cancelLoading: () => kernel.cancelLoading(),
    actAs(worker, start) {
      model.worker = worker
      model.startsWith = start ?? null
      kernel.features.all(feature => feature.handedOver?.())
    },
    place: () => kernel.keptPlace(),
    request: () => model.request(),
    async scrollTo(key) {
      // Lines that are on their way would come to the top.
      await kernel.settled()
      const [row = null] = (await model.ask('findRows', { keyFields: model.keyFields, keys: [key] })) ?? []
      return row !== null && (await kernel.goToRow(row))
    },
    async textsOfFirstRows(columns, rows) {
      const { view } = kernel
      if (!view) return []
      // Asked apart from what is in view: lines that are wanted there must not wait for these.
      const to = Math.min(rows * LINES_A_ROW, view.lines.lineCount)
      // A view that another has taken the place of meanwhile tells nothing.
      const block = await model.ask('cells', { view: view.id, from: 0, to, columns }).catch(() => null)
      const texts: string[][] = []
      for (const [nth, line] of (block?.lines ?? []).entries()) {
        if (line.kind !== 'row' || texts.length === rows) continue
        texts.push(columns.map((_, i) => block?.texts[nth * columns.length + i] ?? ''))
      }
      return texts
    },
    on: (name, listener) => kernel.emitter.on(name, listener),
    unmount: () => kernel.unmount(),
  }
}
