import { styleKey } from '@vast-meadow/engine/client'
import type { FieldType, LengthMap } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import { asPageLine } from '../../kernel/page-line.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { placeLabelOf } from './place-label.ts'
import { drawMap, type MapColours } from './map-drawing.ts'
import { mapWidth } from './map-width.ts'

/** What is shown is asked for when nothing changed for so long: a word that is typed, rows that are ticked. */
const ASK_AFTER_MS = 90
/** CSS px. */
const LEAST_WINDOW = 8
/** Its values have a course. */
const MEASURED: readonly FieldType[] = ['integer', 'number', 'date', 'datetime', 'time']

/**
 * The narrow strip beside the scrollbar that shows what lies where over all lines, those of other pages too. A click or
 * a drag goes there. Drawn in one canvas from what the source tells at the strip's own resolution: nothing is per row.
 */
export function lengthMap(kernel: Kernel): Feature {
  const { model, screen, features, emitter, disposal } = kernel
  const element = make('div', 'length-map', screen.area)
  element.hidden = true
  element.ariaHidden = 'true'
  const canvas = make('canvas', '', element)
  const seen = make('i', '', element)
  const probe = make('span', 'probe', element)
  const label = placeLabelOf(kernel)
  let map: LengthMap | null = null
  let wanted = true
  let timer = 0
  let asked = 0
  /** What the canvas was drawn for. */
  let drawn = ''
  let placed = NaN
  let pointer = -1
  /** The part of the length where it is held. */
  let held = 0

  const lineCount = (): number => kernel.view?.lines.lineCount ?? 0
  const sizeNow = (): string =>
    `${screen.besideWidth} ${heightNow()} ${screen.viewport.pixelRatio} ${screen.viewport.rtl}`
  const heightNow = (): number => Math.max(0, screen.viewport.bodyHeight)

  function place(): void {
    const total = wanted ? (kernel.report?.total ?? 0) : 0
    const width = mapWidth(total * screen.rowHeight, heightNow(), screen.isTouched)
    const hidden = width === 0
    if (element.hidden !== hidden) element.hidden = hidden
    if (screen.besideWidth !== width) {
      screen.besideWidth = width
      element.style.inlineSize = `${width}px`
    }
    if (hidden) return
    if (screen.headHeight === placed) return
    placed = screen.headHeight
    canvas.style.insetBlockStart = seen.style.marginBlockStart = `${screen.headHeight}px`
  }

  /** Where the lines in view lie. */
  function showSeen(): void {
    const lines = lineCount()
    if (element.hidden || lines === 0) return
    const { heights, viewport } = screen
    const { offset, bodyHeight } = viewport
    const lineAt = (px: number): number => {
      const line = asPageLine(Math.min(heights.lineAt(px), Math.max(0, heights.count - 1)))
      const isDetail = kernel.lines.line(line)?.kind === 'detail'
      const into = isDetail ? 1 : (px - heights.topOf(line)) / heights.heightOf(line)
      return Math.max(0, kernel.pager.ofView(line)) + Math.min(1, Math.max(0, into))
    }
    const scale = heightNow() / lines
    const top = lineAt(offset) * scale
    const end = lineAt(offset + bodyHeight) * scale
    const height = Math.max(LEAST_WINDOW, end - top)
    seen.style.transform = `translateY(${Math.min(top, heightNow() - height)}px)`
    seen.style.blockSize = `${height}px`
  }

  const colourOf = (property: string): string => {
    probe.style.color = `var(${property})`
    return getComputedStyle(probe).color
  }

  function colours(): MapColours {
    const marks = (model.definition?.styles ?? []).map(({ tone }) =>
      colourOf(tone ? `--_${tone}` : '--_faint'),
    )
    return {
      border: colourOf('--_faint'),
      selected: colourOf('--_selected-mark'),
      changed: colourOf('--_on'),
      found: colourOf('--_found'),
      course: colourOf('--_on'),
      marks,
    }
  }

  function paint(): void {
    const [width, height, ratio] = [screen.besideWidth, heightNow(), screen.viewport.pixelRatio]
    if (element.hidden || width === 0 || height === 0) return
    canvas.style.inlineSize = `${width}px`
    canvas.style.blockSize = `${height}px`
    drawMap(canvas, map, colours(), { width, height, ratio, rtl: screen.viewport.rtl })
    drawn = sizeNow()
  }

  function askSoon(): void {
    clearTimeout(timer)
    timer = window.setTimeout(() => void ask().catch(kernel.failed), ASK_AFTER_MS)
  }

  /** The column that rows are ordered by first, where its values have a course. */
  function course(): string | null {
    const column = model.arrangement.order.at(0)?.column
    const type = column === undefined ? undefined : model.fieldOf(column)?.type
    return column !== undefined && type && MEASURED.includes(type) ? column : null
  }

  async function ask(): Promise<void> {
    const { view } = kernel
    if (!view || element.hidden || !model.canTell('lengthMap')) {
      map = null
      paint()
      return
    }
    const mine = ++asked
    const ticked = features.all(feature => feature.ticked?.() ?? null).find(rows => rows !== null)
    const { styles = [] } = model.definition ?? {}
    const told = await model.ask('lengthMap', {
      view: view.id,
      steps: Math.floor(heightNow()),
      selected: ticked ?? { chunks: [], names: [] },
      changed: kernel.edits?.changedRows() ?? [],
      rules: styles.map((_, nth) => styleKey(nth)),
      course: course(),
      search: model.arrangement.search,
      searchColumns: model.searchColumns,
    })
    if (mine !== asked || !told) return
    map = told
    paint()
  }

  /** Goes to a height of the strip, in the window's px. */
  function go(y: number): void {
    const { top } = canvas.getBoundingClientRect()
    const { height } = canvas.getBoundingClientRect()
    const part = Math.max(0, Math.min(1, (y - top) / Math.max(1, height)))
    kernel.travelTo(part)
    held = part
    showLabel()
  }

  /** While the strip is held; what stands there may come a moment later. */
  function showLabel(): void {
    if (pointer >= 0) label.show(screen.headHeight + held * heightNow(), screen.besideWidth + 8)
  }

  disposal.listen(element, 'pointerdown', event => {
    if (event.button !== 0) return
    event.preventDefault()
    pointer = event.pointerId
    element.setPointerCapture(pointer)
    go(event.clientY)
  })
  disposal.listen(element, 'pointermove', event => {
    if (event.pointerId === pointer) go(event.clientY)
  })
  const letGo = (event: PointerEvent): void => {
    if (event.pointerId !== pointer) return
    pointer = -1
    label.hide()
  }
  disposal.listen(element, 'pointerup', letGo)
  disposal.listen(element, 'pointercancel', letGo)
  // Colours change with what the page is drawn on, of which nothing else tells.
  disposal.listen(element, 'transitionend', event => {
    if (event.target === element) paint()
  })
  disposal.add(emitter.on('selection', askSoon))
  disposal.add(emitter.on('pending', askSoon))
  disposal.add(() => clearTimeout(timer))

  return {
    name: 'length map',
    defined: definition => {
      wanted = definition.map
      place()
    },
    viewed() {
      place()
      askSoon()
    },
    drawn() {
      place()
      showSeen()
      showLabel()
      const now = sizeNow()
      if (now === drawn || element.hidden) return
      drawn = now
      paint()
      askSoon()
    },
  }
}
