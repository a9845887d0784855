import { readArrangement } from '@vast-meadow/engine/client'
import type { KernelHandle } from './handle.ts'
import type { Kernel } from './kernel.ts'
import { plainJson } from './plain-json.ts'
import { ArrangementError } from './problem.ts'

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
      const { lines } = kernel
      lines.want(0, Math.min(rows, lines.lineCount), columns)
      await new Promise(resolve => setTimeout(resolve, 0))
      const texts: string[][] = []
      for (let index = 0; index < lines.lineCount && texts.length < rows && index < rows * 4; index++) {
        const line = lines.line(index)
        if (line?.kind === 'row') texts.push(columns.map(column => lines.text(index, line.row, column) ?? ''))
      }
      return texts
    },
    on: (name, listener) => kernel.emitter.on(name, listener),
    unmount: () => kernel.unmount(),
  }
}
