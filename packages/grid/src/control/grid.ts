import {
  arrangementFor,
  ArrangementStore,
  CancelledError,
  conditionPhrase,
  defineFrom,
  openSource,
  orderAfterClick,
  readDefinition,
  runWidth,
  shownColumns,
  shower,
  type Arranged,
  type Arrangement,
  type ArrangementChange,
  type Definition,
  type DefinitionInput,
  type FlowReport,
  type FlowRequest,
  type LineReader,
  type Progress,
  type RowRecord,
  type RowSource,
  type SourceDescription,
  type SourceInput,
  type Transaction,
  type Value,
  type Why,
} from '@vast-meadow/engine'
import { BarView, type Chip } from '../bar/bar-view.ts'
import { ColumnsMenu } from '../bar/columns-menu.ts'
import { FootView } from '../bar/foot-view.ts'
import { StateView } from '../bar/state-view.ts'
import {
  columnsInOrder,
  geometryOf,
  MIN_COLUMN_WIDTH,
  SELECT_COLUMN,
  type Geometry,
} from '../band/geometry.ts'
import { BodyView } from '../body/body-view.ts'
import { Viewport } from '../body/viewport.ts'
import { Disposal, make } from '../dom.ts'
import { HeaderBand } from '../header/header-band.ts'
import { enableResizing } from '../header/column-resizing.ts'
import { gridSheet } from '../look/styles.ts'
import { defaultTexts, type Texts } from '../texts.ts'
import { Emitter, type Listener, type MeadowEvents, type Measures } from './events.ts'
import { FrameMeter } from './frame-meter.ts'
import { Navigator } from './navigator.ts'
import { isRowSource, type MeadowOptions } from './options.ts'
import { Selector } from './selector.ts'

const ROW_HEIGHTS = { compact: 26, normal: 31, roomy: 40 } as const
const HEAD_HEIGHT = 33
/** Loading and working are shown only when they take longer than this. */
const PATIENCE_MS = 150
const SAVE_AFTER_MS = 300
/** What decides where columns lie. */
const GEOMETRY_KEYS = ['columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd'] as const
const NOTHING: LineReader = {
  lineCount: 0,
  line: () => undefined,
  text: () => undefined,
  value: () => undefined,
  want: () => {},
  onArrive: () => () => {},
}

/** What `mountMeadow` returns: everything that the interface does, from code. */
export interface MeadowHandle {
  /** Resolves when the first rows are on screen; rejects when they cannot be had. */
  readonly ready: Promise<void>
  readonly arrangement: Arrangement
  readonly definition: Definition | null
  readonly description: SourceDescription | null
  /** The newest report of the flow. */
  readonly report: FlowReport | null
  readonly measures: Measures
  /** The source that answers now; for facets and records. */
  readonly source: RowSource | null
  /** Changes the arrangement as one transaction. */
  arrange(change: ArrangementChange, why?: Why): Transaction | null
  /** Replaces the rows. What was shown stays until the new ones are there, and when they cannot be had. */
  setRows(rows: MeadowOptions['rows'] | NonNullable<MeadowOptions['source']>): Promise<void>
  setDefinition(definition: DefinitionInput): Promise<void>
  /** Ends the loading that is under way; what was shown before stays. */
  cancelLoading(): void
  /** Brings the row with the key into view and the keyboard onto it; false when it is held back or not there. */
  scrollTo(key: Value): Promise<boolean>
  /** The present request to the flow, as `source.facets` takes it. */
  request(): FlowRequest
  readonly selectedCount: number
  /** The selected rows as plain objects, at most `limit`. */
  selectedRecords(limit?: number): Promise<RowRecord[]>
  clearSelection(): void
  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name>): () => void
  unmount(): void
}

/** A grid in a host element. See `mountMeadow`. */
export class Grid implements MeadowHandle {
  readonly ready: Promise<void>
  private readonly root: ShadowRoot
  private readonly options: MeadowOptions
  private readonly texts: Texts
  private readonly disposal = new Disposal()
  private readonly emitter = new Emitter()
  private readonly numbers = new Intl.NumberFormat('en-GB')
  private readonly bar: BarView
  private readonly menu: ColumnsMenu
  private readonly foot: FootView
  private readonly stateView: StateView
  private readonly viewport: Viewport
  private readonly head: HTMLElement
  private readonly header: HeaderBand
  private readonly body: BodyView
  private readonly navigator: Navigator
  private readonly selector: Selector
  private readonly live: HTMLElement
  private readonly meter: FrameMeter
  private store: ArrangementStore
  private currentDefinition: Definition | null = null
  private currentSource: RowSource | null = null
  private ownsSource = false
  private currentDescription: SourceDescription | null = null
  private arranged: Arranged | null = null
  private stopArriving: () => void = () => {}
  private requestVersion = 0
  private loading: AbortController | null = null
  private geometry: Geometry | null = null
  private previewWidth: { column: string; width: number } | null = null
  private columnsDrawn = 0
  private frameAsked = 0
  private frameJob = false
  private changeStarted = 0
  private unmounted = false
  private saveTimer = 0
  private measured: Measures = { frameMs: 0, scriptMs: 0, elements: 0, lines: 0, columns: 0, changeMs: 0 }

  constructor(host: HTMLElement, options: MeadowOptions) {
    this.options = options
    this.texts = { ...defaultTexts, ...options.texts }
    this.root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    this.root.adoptedStyleSheets = [gridSheet()]
    this.store = new ArrangementStore(arrangementFor(bareDefinition()))
    const format = (count: number): string => this.numbers.format(count)
    const frame = make('div', 'meadow', this.root)
    frame.setAttribute('part', 'grid')

    this.bar = new BarView(
      frame,
      this.texts,
      { search: search => this.store.apply({ search }, 'reader'), openColumns: () => this.menu.toggle() },
      this.disposal,
    )
    this.menu = new ColumnsMenu(
      this.bar.element,
      this.bar.columnsButton,
      this.texts,
      {
        columns: () => this.menuColumns(),
        show: (key, shown) => this.showColumn(key, shown),
        pin: (key, pinned) => this.pinColumn(key, pinned),
      },
      this.disposal,
    )
    const area = make('div', 'middle-area', frame)
    this.viewport = new Viewport(
      area,
      { moved: () => this.scrolled(), resized: () => this.resized(), rested: () => this.rested() },
      this.disposal,
    )
    const { view } = this.viewport
    view.setAttribute('role', 'grid')
    view.setAttribute('part', 'view')
    view.ariaMultiSelectable = 'true'
    this.head = make('div', 'head', view)
    this.head.setAttribute('role', 'rowgroup')
    this.head.style.blockSize = `${HEAD_HEIGHT}px`
    this.head.style.setProperty('--_row-height', `${HEAD_HEIGHT - 1}px`)
    this.header = new HeaderBand(this.texts)
    this.header.element.style.blockSize = `${HEAD_HEIGHT}px`
    this.head.append(this.header.element)
    this.selector = new Selector(this.selectorHost())
    this.body = new BodyView(this.rowBandHost(format))
    this.body.element.style.insetBlockStart = `${HEAD_HEIGHT}px`
    view.append(this.body.element)
    this.stateView = new StateView(area, this.texts, format)
    this.foot = new FootView(frame, this.texts, format)
    this.live = make('div', 'quiet', frame)
    this.live.setAttribute('role', 'status')
    this.live.ariaLive = 'polite'
    this.meter = new FrameMeter(ms => this.framePainted(ms))
    this.navigator = new Navigator(view, this.navigatorHost(), this.disposal)
    enableResizing(
      this.head,
      {
        widthOf: column => this.widthOf(column),
        preview: (column, width) => this.preview(column, width),
        keep: (column, width) => this.setWidth(column, width),
        rtl: () => this.viewport.rtl,
      },
      this.disposal,
    )
    this.listen(view)
    this.disposal.add(() => this.closeAll())
    this.ready = this.start()
    // Whoever does not ask hears of failures through the state view and the `problem` event.
    this.ready.catch(() => {})
  }

  // ── From code ────────────────────────────────────────────────────────────────────────────────────────────────

  get arrangement(): Arrangement {
    return this.store.arrangement
  }

  get definition(): Definition | null {
    return this.currentDefinition
  }

  get description(): SourceDescription | null {
    return this.currentDescription
  }

  get report(): FlowReport | null {
    return this.arranged?.report ?? null
  }

  get measures(): Measures {
    return this.measured
  }

  get source(): RowSource | null {
    return this.currentSource
  }

  get selectedCount(): number {
    return this.selector.rows.size
  }

  arrange(change: ArrangementChange, why: Why = 'code'): Transaction | null {
    return this.store.apply(change, why)
  }

  async setRows(rows: MeadowOptions['rows'] | NonNullable<MeadowOptions['source']>): Promise<void> {
    const input = Array.isArray(rows) ? { kind: 'rows' as const, rows } : (rows as RowSource | SourceInput)
    await this.load(input)
  }

  async setDefinition(input: DefinitionInput): Promise<void> {
    const read = readDefinition(input)
    if (!read.ok)
      throw new TypeError(read.problems.map(p => `${p.path || 'definition'}: ${p.message}`).join('\n'))
    if (!this.currentSource) return
    await this.adopt(read.definition, this.store.arrangement)
  }

  cancelLoading(): void {
    this.loading?.abort()
  }

  async scrollTo(key: Value): Promise<boolean> {
    const { currentSource: source, arranged } = this
    if (!source || !arranged || !this.currentDefinition) return false
    const row = await source.findRow(this.currentDefinition.key, key)
    if (row < 0) return false
    let line = await source.lineOfRow(row)
    const closed = line >= 0 ? this.lines.line(line) : undefined
    if (closed?.kind === 'group') {
      this.toggleGroup(line)
      await this.ask()
      line = await source.lineOfRow(row)
    }
    if (line < 0) return false
    const column = this.navigator.column || columnsInOrder(this.geometry!)[1]
    this.viewport.scrollToOffset(line * this.rowHeight - (this.viewport.bodyHeight - this.rowHeight) / 2)
    this.navigator.go(line, column)
    return true
  }

  request(): FlowRequest {
    const { order, conditions, search, group, open } = this.store.arrangement
    const { start, middle, end } = shownColumns(this.store.arrangement)
    return { order, conditions, search, group, open, searchColumns: [...start, ...middle, ...end] }
  }

  async selectedRecords(limit = 10_000): Promise<RowRecord[]> {
    const rows: number[] = []
    for (const row of this.selector.rows) {
      if (rows.length >= limit) break
      rows.push(row)
    }
    return (await this.currentSource?.records(rows)) ?? []
  }

  clearSelection(): void {
    this.selector.set([])
  }

  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name>): () => void {
    return this.emitter.on(name, listener)
  }

  unmount(): void {
    if (this.unmounted) return
    this.unmounted = true
    this.disposal.dispose()
    this.body.dispose()
    this.header.dispose()
    this.meter.dispose()
    this.emitter.clear()
    this.root.replaceChildren()
    this.root.adoptedStyleSheets = []
  }

  // ── Rows come in ─────────────────────────────────────────────────────────────────────────────────────────────

  private async start(): Promise<void> {
    const { rows, source } = this.options
    const input = source ?? (rows ? { kind: 'rows' as const, rows } : null)
    if (input) await this.load(input)
  }

  private async load(input: RowSource | SourceInput): Promise<void> {
    this.loading?.abort()
    const loading = (this.loading = new AbortController())
    const patience = setTimeout(() => this.showLoading(loading, null), PATIENCE_MS)
    let source: RowSource | null = null
    try {
      source = isRowSource(input) ? input : await openSource(input, this.options.placement)
      const description = await source.open({
        signal: loading.signal,
        onProgress: progress => this.showLoading(loading, progress),
      })
      if (loading.signal.aborted || this.unmounted) throw new CancelledError()
      await this.take(source, description, !isRowSource(input))
    } catch (error) {
      if (source && source !== this.currentSource && !isRowSource(input)) source.close()
      if (this.loading === loading) this.loadFailed(error, input)
      throw error
    } finally {
      clearTimeout(patience)
      if (this.loading === loading) this.loading = null
    }
  }

  private showLoading(loading: AbortController, progress: Progress | null): void {
    if (this.loading !== loading || loading.signal.aborted) return
    if (progress) this.emitter.emit('progress', progress)
    if (!this.arranged) this.stateView.show({ kind: 'loading', progress })
    else this.bar.setWorking(true)
  }

  private loadFailed(error: unknown, input: RowSource | SourceInput): void {
    this.bar.setWorking(false)
    const cancelled = error instanceof CancelledError
    const message = error instanceof Error ? error.message : String(error)
    if (!cancelled) this.emitter.emit('problem', { message })
    if (this.arranged) return
    const retry = { text: this.texts.retry, act: () => void this.load(input).catch(() => {}) }
    this.stateView.show(
      cancelled ? { kind: 'cancelled', action: retry } : { kind: 'failed', message, action: retry },
    )
  }

  private async take(source: RowSource, description: SourceDescription, own: boolean): Promise<void> {
    const before = this.ownsSource ? this.currentSource : null
    const definition = this.definitionFor(description)
    const saved = this.currentDefinition ? this.store.arrangement : await this.savedArrangement()
    this.stopArriving()
    this.currentSource = source
    this.ownsSource = own
    this.currentDescription = description
    this.arranged = null
    if (before !== source) before?.close()
    this.clearSelection()
    this.emitter.emit('open', { description })
    await this.adopt(definition, saved)
  }

  private async savedArrangement(): Promise<Partial<Arrangement>> {
    return (await this.options.storage?.load().catch(() => null)) ?? this.options.arrangement ?? {}
  }

  /** The definition that is in use or was given, as long as the data has any of its columns; else one made from the data. */
  private definitionFor(description: SourceDescription): Definition {
    const given = this.currentDefinition ?? this.givenDefinition()
    const fields = new Set(description.fields.map(field => field.key))
    if (given?.columns.some(column => fields.has(column.key))) return given
    return defineFrom(given?.title ?? '', description.fields, description.samples)
  }

  private givenDefinition(): Definition | null {
    if (!this.options.definition) return null
    const read = readDefinition(this.options.definition)
    if (read.ok) return read.definition
    throw new TypeError(
      read.problems.map(problem => `${problem.path || 'definition'}: ${problem.message}`).join('\n'),
    )
  }

  private async adopt(definition: Definition, saved: Partial<Arrangement>): Promise<void> {
    this.currentDefinition = definition
    this.store = new ArrangementStore(arrangementFor(definition, saved))
    this.store.listen((arrangement, transaction) => this.changed(arrangement, transaction))
    this.viewport.view.ariaLabel = definition.title || this.texts.rows
    const formats = definition.columns.map(
      ({ key, format }) => [key, { locale: definition.locale, ...format }] as const,
    )
    await this.currentSource!.bind(Object.fromEntries(formats))
    this.geometry = null
    this.showArrangement()
    await this.ask()
  }

  private closeAll(): void {
    this.loading?.abort()
    clearTimeout(this.saveTimer)
    cancelAnimationFrame(this.frameAsked)
    this.stopArriving()
    if (this.ownsSource) this.currentSource?.close()
    this.currentSource = null
  }

  // ── The arrangement changes ──────────────────────────────────────────────────────────────────────────────────

  private changed(arrangement: Arrangement, { change, why }: Transaction): void {
    this.changeStarted = performance.now()
    if (GEOMETRY_KEYS.some(key => key in change)) this.geometry = null
    this.showArrangement()
    const moved = 'order' in change || 'conditions' in change || 'search' in change || 'group' in change
    const searched = arrangement.search.trim() !== '' && 'hidden' in change
    if (moved || searched || 'open' in change) {
      void this.ask(moved).catch(error => this.askFailed(error))
      this.announceChange(change)
    } else this.askFrame()
    this.emitter.emit('arrangement', { arrangement, why })
    this.saveLater(arrangement)
  }

  private saveLater(arrangement: Arrangement): void {
    clearTimeout(this.saveTimer)
    if (!this.options.storage) return
    this.saveTimer = window.setTimeout(
      () => void this.options.storage!.save(arrangement).catch(() => {}),
      SAVE_AFTER_MS,
    )
  }

  private askFailed(error: unknown): void {
    if (error instanceof CancelledError) return
    this.emitter.emit('problem', { message: error instanceof Error ? error.message : String(error) })
  }

  /** Asks the source for the lines of the present arrangement and shows them. */
  private async ask(toTop = false): Promise<void> {
    const { currentSource: source } = this
    if (!source) return
    const version = ++this.requestVersion
    const patience = setTimeout(() => this.bar.setWorking(true), PATIENCE_MS)
    let arranged: Arranged
    try {
      arranged = await source.arrange(version, this.request())
    } finally {
      clearTimeout(patience)
      if (version === this.requestVersion) this.bar.setWorking(false)
    }
    if (version !== this.requestVersion || this.unmounted) return
    this.showLines(arranged, toTop)
  }

  private showLines(arranged: Arranged, toTop: boolean): void {
    const hadFocus = this.navigator.hasFocus
    this.stopArriving()
    this.arranged = arranged
    this.stopArriving = arranged.lines.onArrive(() => this.arrived())
    this.selector.forgetAnchor()
    this.body.forget()
    if (this.geometry) this.sizeBody(this.geometry)
    const { view } = this.viewport
    view.setAttribute('role', this.store.arrangement.group === null ? 'grid' : 'treegrid')
    view.ariaRowCount = String(arranged.lines.lineCount + 1)
    if (toTop) this.viewport.scrollToOffset(0)
    this.draw()
    this.navigator.restore(hadFocus)
    this.showState()
    this.announcePassing()
    this.meter.begin(this.changeStarted || performance.now())
    this.emitter.emit('flow', { report: arranged.report })
  }

  private showState(): void {
    const { report } = this.arranged!
    if (report.total === 0) this.stateView.show({ kind: 'empty' })
    else if (report.passing === 0) {
      const hint = this.texts.nothingPassesHint(this.numbers.format(report.total))
      const act = (): void => void this.store.apply({ search: '', conditions: {} }, 'reader')
      this.stateView.show({ kind: 'nothing-passes', hint, action: { text: this.texts.liftAll, act } })
    } else this.stateView.show({ kind: 'ready' })
  }

  private showArrangement(): void {
    const { arrangement } = this.store
    const able = this.currentDescription?.can
    this.bar.setSearch(arrangement.search, able?.search ?? true)
    this.bar.setChips(this.chips(arrangement))
    this.header.setOrder(arrangement.order, able?.order ?? true)
    this.menu.update()
  }

  private chips(arrangement: Arrangement): Chip[] {
    const chips: Chip[] = []
    if (arrangement.group !== null) {
      const lift = (): void => void this.store.apply({ group: null }, 'reader')
      chips.push({ before: this.texts.groupedBy, name: this.titleOf(arrangement.group), after: '', lift })
    }
    for (const [key, condition] of Object.entries(arrangement.conditions)) {
      const { [key]: _lifted, ...conditions } = arrangement.conditions
      const lift = (): void => void this.store.apply({ conditions }, 'reader')
      chips.push({
        before: '',
        name: this.titleOf(key),
        after: conditionPhrase(condition, this.showOf(key)),
        lift,
      })
    }
    return chips
  }

  private titleOf(key: string): string {
    return this.currentDefinition?.columns.find(column => column.key === key)?.title || key
  }

  private showOf(key: string): (value: Value) => string {
    const field = this.currentDescription?.fields.find(field => field.key === key)
    const format = this.currentDefinition?.columns.find(column => column.key === key)?.format
    return field ? shower(field, format) : String
  }

  private announceChange(change: ArrangementChange): void {
    if (!change.order) return
    const { texts } = this
    const keys = change.order.map(key => `${this.titleOf(key.column)} ${texts[key.direction]}`)
    this.announce(keys.length > 0 ? texts.orderedBy(keys.join(', ')) : texts.notOrdered)
  }

  private announcePassing(): void {
    const { passing, total } = this.arranged!.report
    const { search, conditions } = this.store.arrangement
    if (!search && Object.keys(conditions).length === 0) return
    this.announce(this.texts.passingRows(this.numbers.format(passing), this.numbers.format(total)))
  }

  private announce(text: string): void {
    this.live.textContent = text
  }

  private orderBy(column: string, adding: boolean): void {
    const defined = this.currentDefinition?.columns.find(defined => defined.key === column)
    if (!defined?.orderable || !this.currentDescription?.can.order) return
    this.store.apply({ order: orderAfterClick(this.store.arrangement.order, column, adding) }, 'reader')
  }

  private showColumn(key: string, shown: boolean): void {
    const others = this.store.arrangement.hidden.filter(hidden => hidden !== key)
    this.store.apply({ hidden: shown ? others : [...others, key] }, 'reader')
  }

  private pinColumn(key: string, pinned: boolean): void {
    const others = this.store.arrangement.pinnedStart.filter(other => other !== key)
    this.store.apply({ pinnedStart: pinned ? [...others, key] : others }, 'reader')
  }

  private menuColumns(): { key: string; title: string; shown: boolean; pinned: boolean }[] {
    const { columns, hidden, pinnedStart } = this.store.arrangement
    return columns.map(key => ({
      key,
      title: this.titleOf(key),
      shown: !hidden.includes(key),
      pinned: pinnedStart.includes(key),
    }))
  }

  private toggleGroup(line: number): boolean {
    const head = this.lines.line(line)
    if (head?.kind !== 'group') return false
    const { open } = this.store.arrangement
    const except = open.except.includes(head.value)
      ? open.except.filter(value => value !== head.value)
      : [...open.except, head.value]
    this.store.apply({ open: { all: open.all, except } }, 'reader')
    return true
  }

  // ── Widths ───────────────────────────────────────────────────────────────────────────────────────────────────

  private widthOf(column: string): number {
    const { widths } = this.store.arrangement
    return (
      widths[column] ?? this.currentDefinition?.columns.find(defined => defined.key === column)?.width ?? 0
    )
  }

  private setWidth(column: string, width: number): void {
    const widths = { ...this.store.arrangement.widths, [column]: Math.max(MIN_COLUMN_WIDTH, width) }
    this.store.apply({ widths }, 'reader')
  }

  private preview(column: string, width: number | null): void {
    this.previewWidth = width === null ? null : { column, width }
    this.geometry = null
    this.draw()
  }

  // ── Drawing ──────────────────────────────────────────────────────────────────────────────────────────────────

  private get lines(): LineReader {
    return this.arranged?.lines ?? NOTHING
  }

  /** The element in the viewport that has the focus. */
  private get focusedCell(): Element | null {
    const { activeElement } = this.root
    return activeElement && this.viewport.view.contains(activeElement) ? activeElement : null
  }

  private get rowHeight(): number {
    return ROW_HEIGHTS[this.currentDefinition?.density ?? 'normal']
  }

  private askFrame(): void {
    if (this.frameJob) return
    this.frameJob = true
    this.frameAsked = requestAnimationFrame(() => {
      this.frameJob = false
      this.draw()
      if (this.changeStarted) this.meter.begin(this.changeStarted)
    })
  }

  /** Draws at once: in the scroll event the frame is not yet painted, a frame later it would be. */
  private scrolled(): void {
    const started = performance.now()
    this.draw()
    this.measured = { ...this.measured, scriptMs: performance.now() - started }
    this.meter.begin(started)
  }

  private resized(): void {
    this.geometry = null
    this.askFrame()
  }

  private rested(): void {
    const focused = this.focusedCell
    this.body.sort(focused)
    this.header.sortCells(focused)
    this.header.releaseKept(focused)
  }

  private arrived(): void {
    this.body.refresh()
  }

  private draw(): void {
    if (this.unmounted || !this.currentDefinition) return
    const { viewport, lines, rowHeight } = this
    const geometry = (this.geometry ??= this.layOut())
    const columns = viewport.columnWindow(geometry)
    const { shift, rtl, offset } = viewport
    this.columnsDrawn = geometry.start.keys.length + geometry.end.keys.length + columns.end - columns.first
    const focused = this.focusedCell
    this.header.showColumns(columns, focused)
    this.header.moveMiddle(shift, rtl)
    const wanted = this.wantedColumns(geometry, columns.first, columns.end)
    const firstLine = Math.floor(offset / rowHeight)
    const endLine = Math.min(lines.lineCount, Math.ceil((offset + viewport.bodyHeight) / rowHeight))
    if (wanted) lines.want(firstLine, endLine, wanted)
    this.body.draw({
      offset,
      height: viewport.bodyHeight,
      rowHeight,
      lineCount: lines.lineCount,
      geometry,
      columns,
      shift,
      rtl,
      pixelRatio: viewport.pixelRatio,
      focused,
    })
    this.showFoot()
  }

  /** Columns in view, only where somebody has to fetch them. */
  private wantedColumns(geometry: Geometry, first: number, end: number): string[] | null {
    if (this.lines === NOTHING) return null
    return [...geometry.start.keys.slice(1), ...geometry.middle.keys.slice(first, end), ...geometry.end.keys]
  }

  private layOut(): Geometry {
    const { arrangement } = this.store
    const preview = this.previewWidth
    const widths = preview ? { ...arrangement.widths, [preview.column]: preview.width } : arrangement.widths
    const { viewport, rowHeight } = this
    this.body.element.style.setProperty('--_row-height', `${rowHeight - 1}px`)
    let geometry = geometryOf(this.currentDefinition!, { ...arrangement, widths }, viewport.width)
    this.sizeBody(geometry)
    geometry = geometryOf(this.currentDefinition!, { ...arrangement, widths }, viewport.width)
    this.header.layOut(geometry, viewport.columnWindow(geometry), this.focusedCell)
    viewport.view.ariaColCount = String(geometry.count)
    return geometry
  }

  private sizeBody(geometry: Geometry): void {
    this.viewport.setBody(this.lines.lineCount, this.rowHeight, HEAD_HEIGHT, geometry.width)
  }

  private showFoot(): void {
    const { report } = this
    const count = this.lines.lineCount
    this.foot.show({
      from: count === 0 ? 0 : this.body.first + 1,
      to: count === 0 ? 0 : this.body.end,
      grouped: this.store.arrangement.group !== null,
      passing: report?.passing ?? 0,
      total: report?.total ?? 0,
      selected: this.selector.rows.size,
    })
  }

  private framePainted(ms: number): void {
    if (this.unmounted) return
    const change = this.changeStarted
    this.changeStarted = 0
    this.measured = {
      ...this.measured,
      ...(change ? { changeMs: ms } : { frameMs: ms }),
      elements: this.root.querySelectorAll('*').length,
      lines: this.body.end - this.body.first,
      columns: this.columnsDrawn,
    }
    this.emitter.emit('measures', this.measured)
  }

  // ── Clicks and keys ──────────────────────────────────────────────────────────────────────────────────────────

  private listen(view: HTMLElement): void {
    this.disposal.listen(view, 'click', event => this.clicked(event))
    this.disposal.listen(view, 'dblclick', event => {
      const place = this.placeOf(event.target as Element)
      if (place && place.line >= 0) void this.tellRow(place.line, place.column)
    })
    this.disposal.listen(view, 'copy' as keyof HTMLElementEventMap, event =>
      this.copy(event as ClipboardEvent),
    )
  }

  private clicked(event: MouseEvent): void {
    const place = this.placeOf(event.target as Element)
    if (!place) return
    const { line, column } = place
    const box = (event.target as Element).closest('.box') !== null || column === SELECT_COLUMN
    if (line === -1) {
      if (box) this.selectAll()
      else this.orderBy(column, event.shiftKey)
    } else if (this.lines.line(line)?.kind === 'group') this.toggleGroup(line)
    else if (event.shiftKey) void this.selector.extend(line, box || event.ctrlKey || event.metaKey)
    else if (box || event.ctrlKey || event.metaKey) this.selector.toggle(line)
    else this.selector.only(line)
  }

  private placeOf(element: Element): { line: number; column: string } | null {
    if (this.head.contains(element)) {
      for (const cell of this.header.cells()) {
        if (cell.element.contains(element)) return { line: -1, column: cell.column }
      }
      return null
    }
    const band = this.body.bandOf(element)
    if (!band || band.line < 0) return null
    if (band.isGroup) return { line: band.line, column: this.navigator.column }
    for (const cell of band.cells())
      if (cell.element.contains(element)) return { line: band.line, column: cell.column }
    return null
  }

  private selectAll(): void {
    const passing = this.report?.passing ?? 0
    void this.selector.toggleAll(this.selector.rows.size >= passing)
  }

  private selectionChanged(): void {
    const count = this.selector.rows.size
    const passing = this.report?.passing ?? 0
    this.body.refreshSelected()
    this.header.setAllSelected(count === 0 ? 'false' : count >= passing ? 'true' : 'mixed')
    this.showFoot()
    if (count > 0) this.announce(this.texts.selected(this.numbers.format(count)))
    this.emitter.emit('selection', { count })
  }

  private copy(event: ClipboardEvent): void {
    const selection = document.getSelection()
    if (selection && !selection.isCollapsed) return
    const { line, column } = this.navigator
    if (line < 0 || column === SELECT_COLUMN) return
    const shown = this.lines.line(line)
    if (!shown) return
    const text = shown.kind === 'group' ? shown.shown : this.lines.text(line, shown.row, column)
    if (text === undefined) return
    event.clipboardData?.setData('text/plain', text)
    event.preventDefault()
    this.announce(this.texts.copied(text))
  }

  private async tellRow(line: number, column: string): Promise<void> {
    const shown = this.lines.line(line)
    if (shown?.kind !== 'row') return
    const [record] = (await this.currentSource?.records([shown.row])) ?? []
    if (record) this.emitter.emit('row', { record, column })
  }

  private reveal(line: number, column: string): void {
    const { viewport, rowHeight } = this
    const geometry = (this.geometry ??= this.layOut())
    if (line >= 0) {
      const top = line * rowHeight
      const { offset, bodyHeight } = viewport
      if (top < offset) viewport.scrollToOffset(top)
      else if (top + rowHeight > offset + bodyHeight) viewport.scrollToOffset(top + rowHeight - bodyHeight)
    }
    const at = geometry.middle.keys.indexOf(column)
    if (at < 0) return
    const from = geometry.middle.offsets[at]
    const to = geometry.middle.offsets[at + 1]
    const room = viewport.width - runWidth(geometry.start) - runWidth(geometry.end)
    if (from < viewport.shift) viewport.scrollToShift(from)
    else if (to > viewport.shift + room) viewport.scrollToShift(Math.min(from, to - room))
  }

  private selectorHost(): ConstructorParameters<typeof Selector>[0] {
    const grid = (): Grid => this
    return {
      get source() {
        return grid().currentSource
      },
      get lineCount() {
        return grid().lines.lineCount
      },
      rowAt: line => {
        const shown = this.lines.line(line)
        return shown?.kind === 'row' ? shown.row : -1
      },
      changed: () => this.selectionChanged(),
    }
  }

  private rowBandHost(format: (count: number) => string): ConstructorParameters<typeof BodyView>[0] {
    const grid = (): Grid => this
    const painters = this.options.parts?.painters ?? {}
    return {
      texts: this.texts,
      get lines() {
        return grid().lines
      },
      painterOf: column => painters[this.painterName(column)],
      isSelected: row => this.selector.rows.has(row),
      format,
    }
  }

  /** The painter that the definition names, or one that the host gave for the very column. */
  private painterName(column: string): string {
    return this.geometry?.column(column)?.painter ?? `cell:${column}`
  }

  private navigatorHost(): ConstructorParameters<typeof Navigator>[1] {
    const grid = (): Grid => this
    return {
      get lineCount() {
        return grid().lines.lineCount
      },
      get pageLines() {
        return Math.floor(grid().viewport.bodyHeight / grid().rowHeight)
      },
      get rtl() {
        return grid().viewport.rtl
      },
      columns: () => (this.geometry ? columnsInOrder(this.geometry) : []),
      reveal: (line, column) => this.reveal(line, column),
      element: (line, column) =>
        line === -1 ? this.header.cellOf(column)?.element : this.body.bandAt(line)?.focusTarget(column),
      placeOf: element => this.placeOf(element),
      enter: (line, column, adding) => {
        if (line === -1) {
          if (column === SELECT_COLUMN) this.selectAll()
          else this.orderBy(column, adding)
        } else if (!this.toggleGroup(line)) void this.tellRow(line, column)
      },
      space: (line, column, extending) => {
        if (line === -1) {
          if (column === SELECT_COLUMN) this.selectAll()
        } else if (this.toggleGroup(line)) return
        else if (extending) void this.selector.extend(line, true)
        else this.selector.toggle(line)
      },
      selectAll: () => void this.selector.toggleAll(false),
      setOpen: (line, open) => {
        const head = this.lines.line(line)
        return head?.kind === 'group' && head.open !== open && this.toggleGroup(line)
      },
      resize: (column, by) => this.setWidth(column, this.widthOf(column) + by),
      isHead: line => this.lines.line(line)?.kind === 'group',
    }
  }
}

function bareDefinition(): Definition {
  return defineFrom('', [], [])
}
