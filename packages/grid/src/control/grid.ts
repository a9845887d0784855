import {
  CancelledError,
  expressionProblemText,
  isAble,
  WHERE_KEY,
  type Arrangement,
  type ArrangementChange,
  type ChangeSet,
  type Committed,
  type ComputedProblem,
  type Definition,
  type DefinitionInput,
  type FlowReport,
  type KeyValue,
  type LineReader,
  type Progress,
  type RowId,
  type RowObject,
  type RowRecord,
  type RowSource,
  type SourceDescription,
  type SourceInput,
  type Trace,
  type Transaction,
  type View,
  type ViewId,
  type ViewRequest,
  type Why,
} from '@vast-meadow/engine'
import { BarView } from '../bar/bar-view.ts'
import { ColumnsMenu, type MenuColumn } from '../bar/columns-menu.ts'
import { FootView } from '../bar/foot-view.ts'
import { StateView } from '../bar/state-view.ts'
import { WholeText } from '../body/whole-text.ts'
import { CellDrawing } from './cell-drawing.ts'
import { ActionRunner } from './action-runner.ts'
import { Announcer } from './announcer.ts'
import { Asking, type AskingHost } from './asking.ts'
import { Pager } from './pager.ts'
import { PlaceActs } from './place-acts.ts'
import { RowChanges, type RowChangesHost } from './row-changes.ts'
import type { RowBandHost } from '../body/row-band.ts'
import { Disposal, make } from '../dom.ts'
import { enableResizing } from '../header/column-resizing.ts'
import { gridSheet } from '../look/styles.ts'
import { defaultTexts, type Texts } from '../texts.ts'
import { Emitter, type Listener, type MeadowEvents, type Measures } from './events.ts'
import { definitionOf, GridModel } from './grid-model.ts'
import type { MeadowHandle } from './handle.ts'
import { Navigator, type NavigatorHost } from './navigator.ts'
import type { MeadowOptions, RowsGiven } from './options.ts'
import { linesOfPlace, rowsOfPlace, topRow, type LinePlace, type RowPlace } from './place-keeper.ts'
import { RowLoader } from './row-loader.ts'
import { Screen } from './screen.ts'
import { Selector, type SelectorHost } from './selector.ts'

/** Work under way is shown only when it takes longer than this. */
const PATIENCE_MS = 150
const SAVE_AFTER_MS = 300
/** What decides which rows pass and where they stand. */
const MOVES_ROWS = ['order', 'conditions', 'where', 'search', 'group'] as const
/** What decides where columns lie. */
const GEOMETRY_KEYS = ['columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd'] as const
const inputOf = (rows: RowsGiven): RowSource | SourceInput =>
  Array.isArray(rows) ? { kind: 'rows', rows: rows as RowObject[] } : (rows as RowSource | SourceInput)

/** A grid in a host element: joins model, rows, screen, keyboard and selection. See `mountMeadow`. */
export class Grid implements MeadowHandle {
  readonly ready: Promise<void>
  private readonly root: ShadowRoot
  private readonly options: MeadowOptions
  private readonly texts: Texts
  private readonly disposal = new Disposal()
  private readonly emitter = new Emitter()
  private readonly numbers = new Intl.NumberFormat('en-GB')
  private readonly model: GridModel
  private readonly asking: Asking
  private readonly loader: RowLoader
  private readonly frame: HTMLElement
  private readonly bar: BarView
  private readonly menu: ColumnsMenu
  private readonly foot: FootView
  private readonly state: StateView
  private readonly screen: Screen
  private readonly navigator: Navigator
  private readonly selector: Selector
  private readonly announcer: Announcer
  private readonly drawing: CellDrawing
  private readonly wholeText: WholeText
  /** The view that is shown. */
  private shown: View | null = null
  /** What it is drawn by. */
  private drawnBy: Definition | null = null
  private readonly pager = new Pager()
  private readonly actions: ActionRunner
  private readonly acts: PlaceActs
  private readonly changes: RowChanges
  private wrongExpressions: readonly ComputedProblem[] = []
  private stopArriving: () => void = () => {}
  /** Gives the newest request up. */
  private newest = new AbortController()
  /** The newest request, until its lines are shown. */
  private asked: Promise<void> = Promise.resolve()
  private saveTimer = 0
  /** Comes with the rows that are being loaded. */
  private comingDefinition: Definition | null = null
  private unmounted = false

  constructor(host: HTMLElement, options: MeadowOptions) {
    this.options = options
    this.model = new GridModel(
      (arrangement, transaction) => this.changed(arrangement, transaction),
      options.clock,
    )
    this.texts = { ...defaultTexts, ...options.texts }
    this.root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    this.drawing = new CellDrawing(options.parts?.painters ?? {}, message =>
      this.emitter.emit('problem', { message }),
    )
    this.root.adoptedStyleSheets = [gridSheet(), this.drawing.sheet]
    const { texts, model, disposal } = this
    const format = (count: number): string => this.numbers.format(count)
    const frame = make('div', 'meadow', this.root)
    frame.setAttribute('part', 'grid')
    this.frame = frame

    const search = (text: string): void => void model.apply({ search: text }, 'reader')
    const barHost = {
      search,
      openColumns: () => this.menu.toggle(),
      toMatch: (step: 1 | -1) => void this.asking.toMatch(step),
    }
    this.bar = new BarView(frame, texts, barHost, disposal)
    const menuHost = {
      columns: () => this.menuColumns(),
      show: (key: string, shown: boolean) => model.showColumn(key, shown),
      pin: (key: string, pinned: boolean) => model.pinColumn(key, pinned),
    }
    this.menu = new ColumnsMenu(this.bar.element, this.bar.columnsButton, texts, menuHost, disposal)
    const area = make('div', 'middle-area', frame)
    this.selector = new Selector(this.selectorHost())
    this.screen = new Screen(area, model, texts, this.rowBandHost(format), this.screenHost(), disposal)
    this.state = new StateView(area, texts, format)
    const pageHost = {
      goTo: (page: number) => void model.apply({ page }, 'reader'),
      resize: (pageSize: number) => void model.apply({ pageSize }, 'reader'),
    }
    this.foot = new FootView(frame, texts, format, pageHost, disposal)
    this.announcer = new Announcer(frame, model, texts, format)
    this.actions = new ActionRunner(frame, model, texts, this.emitter, options.parts?.actions)
    const { view } = this.screen.viewport
    this.wholeText = new WholeText(frame, view, disposal)
    this.navigator = new Navigator(view, this.navigatorHost(), disposal)
    this.asking = new Asking(model, texts, options.parts?.conditions ?? {}, this.askingHost(format), disposal)
    enableResizing(
      this.screen.head,
      {
        widthOf: column => model.widthOf(column),
        within: (column, width) => model.widthWithin(column, width),
        preview: (column, width) => this.screen.previewWidth(column, width),
        keep: (column, width) => model.setWidth(column, width),
        rtl: () => this.screen.viewport.rtl,
      },
      disposal,
    )
    const { screen, selector, navigator, asking, actions, announcer, emitter } = this
    this.acts = new PlaceActs(
      view,
      {
        ...{ model, texts, screen, selector, navigator, asking, actions, announcer, emitter },
        lines: () => this.lines,
        passing: () => this.report?.passing ?? 0,
      },
      disposal,
    )
    this.changes = new RowChanges(model, selector, this.changesHost())
    this.loader = new RowLoader(
      options.placement,
      { conditions: options.parts?.conditions },
      {
        loaded: (source, description, own) => this.loaded(source, description, own),
        loading: progress => this.showLoading(progress),
        failed: (message, retry) => this.loadFailed(message, retry),
      },
    )
    this.ready = this.start()
    // Whoever does not ask hears of failures through the state view and the `problem` event.
    this.ready.catch(() => {})
  }

  // ── From code ────────────────────────────────────────────────────────────────────────────────────────────────

  get arrangement(): Arrangement {
    return this.model.arrangement
  }

  get definition(): Definition | null {
    return this.model.definition
  }

  get description(): SourceDescription | null {
    return this.model.description
  }

  get report(): FlowReport | null {
    return this.shown?.report ?? null
  }

  get measures(): Measures {
    return this.screen.measures
  }

  get viewId(): ViewId | null {
    return this.shown?.id ?? null
  }

  get source(): RowSource | null {
    return this.model.source
  }

  get expressionProblems(): readonly ComputedProblem[] {
    return this.wrongExpressions
  }

  get selectedCount(): number {
    return this.selector.rows.size
  }

  arrange(change: ArrangementChange, why: Why = 'code'): Transaction | null {
    return this.model.apply(change, why)
  }

  async setRows(rows: RowsGiven, input?: DefinitionInput): Promise<void> {
    const definition = input && definitionOf(input)
    if (Array.isArray(rows) && !definition && (await this.changes.become(rows as RowObject[]))) return
    this.comingDefinition = definition ?? null
    try {
      await this.loader.load(inputOf(rows))
    } finally {
      this.comingDefinition = null
    }
    this.changes.hold(rows)
  }

  async setDefinition(input: DefinitionInput): Promise<void> {
    const definition = definitionOf(input)
    const { model } = this
    if (!model.source || !model.definition) return
    // The rows stay: their numbers name them as long as the key does not matter.
    const place = this.place()
    model.madeFromData = false
    await this.define(definition, this.arrangement, place)
  }

  commit(changes: ChangeSet): Promise<Committed> {
    return this.changes.commit(changes)
  }

  cancelLoading(): void {
    this.loader.cancel()
  }

  async scrollTo(key: KeyValue): Promise<boolean> {
    const { source, definition } = this.model
    if (!source || !definition || !this.shown) return false
    const [row] = await source.ask('findRows', { keyFields: definition.key, keys: [key] })
    if (row === null) return false
    const lineOf = async (view: View): Promise<number> =>
      (await source.ask('linesOf', { view: view.id, rows: [row] }))[0]
    let line = await lineOf(this.shown)
    const head = line >= 0 ? this.shown.lines.line(line) : undefined
    if (head?.kind === 'head') {
      this.model.toggleGroup(head.value)
      await this.ask()
      line = await lineOf(this.shown)
    }
    if (line < 0) return false
    this.goTo(line, this.navigator.column || this.screen.columns[1])
    return true
  }

  request(): ViewRequest {
    return this.model.request()
  }

  async selectedRecords(limit = 10_000): Promise<RowRecord[]> {
    const rows: RowId[] = []
    for (const row of this.selector.rows) {
      if (rows.length >= limit) break
      rows.push(row)
    }
    return (await this.model.ask('records', { rows, binding: this.model.binding })) ?? []
  }

  async textsOfFirstRows(columns: readonly string[], rows: number): Promise<string[][]> {
    const { lines } = this
    lines.want(0, Math.min(rows, lines.lineCount), columns)
    await new Promise(resolve => setTimeout(resolve, 0))
    const texts: string[][] = []
    for (let index = 0; index < lines.lineCount && texts.length < rows && index < rows * 4; index++) {
      const line = lines.line(index)
      if (line?.kind === 'row') texts.push(columns.map(column => lines.text(index, line.row, column) ?? ''))
    }
    return texts
  }

  clearSelection(): void {
    this.selector.set({ kind: 'run', from: 0, to: 0 })
  }

  openCard(column: string): void {
    this.asking.openCard(column)
  }

  mountConditionEditor(column: string, host: HTMLElement): (() => void) | null {
    return this.asking.mountEditor(column, host)
  }

  toMatch(step: 1 | -1): Promise<void> {
    return this.asking.toMatch(step)
  }

  async trace(key: KeyValue): Promise<Trace | null> {
    const { model, shown } = this
    const [row = null] = (await model.ask('findRows', { keyFields: model.keyFields, keys: [key] })) ?? []
    if (row === null || !shown) return null
    return (await model.ask('trace', { request: this.request(), view: shown.id, row })) ?? null
  }

  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name>): () => void {
    return this.emitter.on(name, listener)
  }

  unmount(): void {
    if (this.unmounted) return
    this.unmounted = true
    this.loader.cancel()
    this.newest.abort()
    clearTimeout(this.saveTimer)
    this.stopArriving()
    this.changes.close()
    this.model.close()
    this.disposal.dispose()
    this.emitter.clear()
    this.root.host.removeAttribute('data-own-height')
    this.root.replaceChildren()
    this.root.adoptedStyleSheets = []
  }

  // ── Rows come in ─────────────────────────────────────────────────────────────────────────────────────────────

  private async start(): Promise<void> {
    const { rows, source } = this.options
    const given = source ?? rows
    if (!given) return
    await this.loader.load(inputOf(given))
    this.changes.hold(given)
  }

  /** What a reader holds on to. */
  private place(): RowPlace {
    const { line } = this.navigator
    const at = line >= 0 ? this.lines.line(line) : undefined
    return {
      selected: null,
      top: topRow(this.lines, this.screen.viewport.offset, this.screen.heights),
      focused: at?.kind === 'row' ? at.row : null,
    }
  }

  /** The rows changed by themselves or by a commit: what is shown is asked for again, at its place. */
  private async refresh(): Promise<void> {
    const { model } = this
    const { source } = model
    if (!source) return
    const place = this.place()
    const description = await source.ask('description', { binding: model.binding })
    if (this.unmounted || model.source !== source) return
    const sameFields = JSON.stringify(description.fields) === JSON.stringify(model.description?.fields)
    model.description = description
    this.emitter.emit('open', { description })
    if (sameFields) await this.ask(false, place)
    else await this.define(model.fittingDefinition(model.definition, description), this.arrangement, place)
  }

  private showLoading(progress: Progress | null): void {
    if (progress) this.emitter.emit('progress', progress)
    if (!this.shown) this.state.show({ kind: 'loading', progress })
    else this.bar.setWorking(true)
  }

  private loadFailed(message: string | null, retry: () => void): void {
    if (this.unmounted) return
    this.bar.setWorking(false)
    if (message !== null) this.emitter.emit('problem', { message })
    if (this.shown) return
    const action = { text: this.texts.retry, act: retry }
    this.state.show(message === null ? { kind: 'cancelled', action } : { kind: 'failed', message, action })
  }

  private async loaded(source: RowSource, description: SourceDescription, own: boolean): Promise<void> {
    const { model, options } = this
    const { comingDefinition } = this
    if (comingDefinition) model.madeFromData = false
    const first = options.definition ? definitionOf(options.definition) : null
    const given = comingDefinition ?? model.definition ?? first
    const arrangement = model.definition ? model.arrangement : await this.savedArrangement()
    const keys = this.shown && (await this.changes.keysOfPlace())
    const hadFocus = this.navigator.hasFocus
    this.stopArriving()
    this.changes.follow(null)
    this.shown?.close()
    this.shown = null
    this.drawnBy = null
    this.pager.clear()
    model.takeSource(source, description, own)
    this.changes.follow(source)
    this.clearSelection()
    this.emitter.emit('open', { description })
    const definition = model.fittingDefinition(given, description)
    const keyFields = definition.key
    const known = keyFields.every(key => description.fields.some(field => field.key === key))
    const place = keys && known ? await rowsOfPlace(source, keyFields, keys) : null
    await this.define(definition, arrangement, place)
    if (place?.selected) this.selector.set(place.selected)
    // The focused cell was taken away with its row; nobody else has the focus since.
    if (hadFocus && document.activeElement === document.body) this.navigator.restore(true)
  }

  private async savedArrangement(): Promise<Partial<Arrangement>> {
    return (await this.options.storage?.load().catch(() => null)) ?? this.options.arrangement ?? {}
  }

  private async define(
    definition: Definition,
    arrangement: Partial<Arrangement>,
    place: RowPlace | null = null,
  ): Promise<void> {
    this.model.define(definition, arrangement)
    await this.ask(false, place)
  }

  /** The fields that a view has, and what is wrong with those that it should have. */
  private takeFields({ fields, problems }: View): void {
    const { model } = this
    const before = model.description
    if (before && JSON.stringify(before.fields) !== JSON.stringify(fields)) {
      const description = { ...before, fields }
      model.description = description
      this.emitter.emit('open', { description })
    }
    if (JSON.stringify(problems) === JSON.stringify(this.wrongExpressions)) return
    this.wrongExpressions = problems
    model.whereWrong = problems.some(({ key }) => key === WHERE_KEY)
    for (const { key, problem } of problems) {
      const place = model.definition?.columns.find(column => column.key === key)?.title ?? ''
      const message = `${place ? `“${place}”: ` : ''}${expressionProblemText(problem)}`
      this.emitter.emit('problem', { message })
    }
  }

  /** Everything that follows from the definition alone is drawn by it. */
  private showDefinition(definition: Definition): void {
    const { model, screen } = this
    this.drawnBy = definition
    screen.viewport.view.ariaLabel = definition.title || this.texts.rows
    this.drawing.define(definition, definition.rowHeight === 'content')
    this.showFit(definition)
    this.bar.showSearch(definition.searchable)
    screen.setStrip(definition.strip && isAble(model.description?.can.conditions) ? this.asking.strip : null)
    screen.relay()
    const { source, binding } = model
    if (source && model.canTell('profile'))
      void this.drawing.measureBars(definition, source, binding, () => this.screen.body.refresh())
  }

  /** How high the grid is in its place. */
  private showFit({ fit, look }: Definition): void {
    const { frame } = this
    frame.classList.toggle('by-rows', fit.kind === 'rows')
    frame.classList.toggle('striped', look.stripes)
    frame.dataset.rules = look.rules
    frame.style.blockSize = fit.kind === 'fixed' ? `${fit.height}px` : ''
    frame.style.maxBlockSize = fit.kind === 'rows' ? `${fit.most}px` : ''
    const host = this.root.host as HTMLElement
    host.toggleAttribute('data-own-height', fit.kind !== 'fill')
  }

  // ── The arrangement changes ──────────────────────────────────────────────────────────────────────────────────

  private changed(arrangement: Arrangement, { change, why }: Transaction): void {
    this.screen.changeBegins()
    this.showArrangement()
    const moved = MOVES_ROWS.some(key => key in change)
    const searched = arrangement.search.trim() !== '' && 'hidden' in change
    if (GEOMETRY_KEYS.some(key => key in change)) this.screen.relay()
    if (moved || searched || 'open' in change) this.wholeText.hide()
    if ('page' in change || 'pageSize' in change) this.turnPage()
    if (moved || searched || 'open' in change) {
      void this.ask(moved).catch(error => this.askFailed(error))
      this.announcer.order(change)
    }
    this.emitter.emit('arrangement', { arrangement, why })
    this.saveLater(arrangement)
  }

  private saveLater(arrangement: Arrangement): void {
    const { storage } = this.options
    clearTimeout(this.saveTimer)
    if (!storage) return
    this.saveTimer = window.setTimeout(() => void storage.save(arrangement).catch(() => {}), SAVE_AFTER_MS)
  }

  private askFailed(error: unknown): void {
    if (error instanceof CancelledError) return
    this.emitter.emit('problem', { message: error instanceof Error ? error.message : String(error) })
  }

  /** Asks the source for the lines of the present arrangement and shows them, or those of a newer one. */
  private ask(toTop = false, place: RowPlace | null = null): Promise<void> {
    return (this.asked = this.askOnce(toTop, place))
  }

  private async askOnce(toTop: boolean, place: RowPlace | null): Promise<void> {
    const { source } = this.model
    if (!source) return
    this.newest.abort()
    const mine = (this.newest = new AbortController())
    const { signal } = mine
    const patience = setTimeout(() => this.bar.setWorking(true), PATIENCE_MS)
    let view: View | null = null
    let kept: LinePlace | null = null
    try {
      view = await source.view(this.request(), { signal })
      if (place) kept = await linesOfPlace(source, view.id, place)
    } catch (error) {
      view?.close()
      // A newer request has taken this one's place and brings the lines; that is no failure.
      if (error instanceof CancelledError && mine !== this.newest) return await this.asked
      throw error
    } finally {
      clearTimeout(patience)
      if (mine === this.newest) this.bar.setWorking(false)
    }
    const top = toTop ? { line: 0, into: 0 } : (kept?.top ?? null)
    if (mine !== this.newest || this.unmounted) {
      view.close()
      if (!this.unmounted) await this.asked
    } else this.showView(view, top, kept?.focused ?? -1)
  }

  /** `top`: what shall be at the top, else the offset stays; `focused`: the line of the focused row, else it stays. */
  private showView(view: View, top: LinePlace['top'], focused: number): void {
    const hadFocus = this.navigator.hasFocus
    this.stopArriving()
    this.shown?.close()
    this.shown = view
    this.takeFields(view)
    const { definition } = this.model
    if (definition && definition !== this.drawnBy) this.showDefinition(definition)
    this.showArrangement()
    this.stopArriving = view.lines.onArrive(() => {
      this.screen.arrived()
      this.navigator.settle()
    })
    this.takePage()
    const line = top ? this.pager.placeOf(top.line) : -1
    top = top && line >= 0 ? { ...top, line } : null
    focused = this.pager.placeOf(focused)
    this.selector.forgetAnchor()
    const grid = this.screen.viewport.view
    grid.setAttribute('role', this.arrangement.group === null ? 'grid' : 'treegrid')
    const { kind, rows } = view.counts.lines
    grid.ariaRowCount = kind === 'exact' ? String(rows + this.screen.headRows) : '-1'
    if (focused >= 0) this.navigator.follow(focused)
    this.screen.linesChanged(top)
    this.navigator.restore(hadFocus)
    this.showState(view.report)
    this.asking.linesChanged(view.report)
    this.announcer.passing(view.report)
    this.emitter.emit('flow', { report: view.report })
  }

  private takePage(): void {
    this.pager.take(this.shown!.lines, this.model.pageSize, this.arrangement.page)
  }

  /** Another page, or as many lines as were not on one before. */
  private turnPage(): void {
    if (!this.shown) return
    const hadFocus = this.navigator.hasFocus
    this.takePage()
    this.selector.forgetAnchor()
    this.screen.linesChanged({ line: 0, into: 0 })
    this.navigator.restore(hadFocus)
    const { page, pages } = this.pager.span
    this.announcer.say(`${this.texts.page} ${page + 1} ${this.texts.ofPages(String(pages))}`)
  }

  private showState({ total, passing }: FlowReport): void {
    if (total === 0) this.state.show({ kind: 'empty' })
    else if (passing === 0) this.showNothingPasses(total)
    else this.state.show({ kind: 'ready' })
  }

  /** Says at once that nothing passes, and what holds the rows back as soon as that is counted. */
  private showNothingPasses(total: number): void {
    const { model, texts, shown } = this
    const hint = texts.nothingPassesHint(this.numbers.format(total))
    const act = (): void => void model.apply({ search: '', conditions: {}, where: '' }, 'reader')
    const action = { text: texts.liftAll, act }
    this.state.show({ kind: 'nothing-passes', hint, hindering: [], action })
    model.ask('explain', { request: model.request() }).then(
      told => {
        if (!told || shown !== this.shown || this.unmounted) return
        const hindering = this.asking.hindrances(told)
        this.state.show({ kind: 'nothing-passes', hint, hindering, action })
      },
      error => this.askFailed(error),
    )
  }

  private showArrangement(): void {
    const { arrangement, description } = this.model
    this.bar.setSearch(arrangement.search, description?.can.search === true || !description)
    this.asking.arrangementChanged()
    this.screen.header.setOrder(arrangement.order, !description || isAble(description.can.order))
    this.menu.update()
  }

  private menuColumns(): MenuColumn[] {
    const { columns, hidden, pinnedStart } = this.arrangement
    return columns.map(key => ({
      key,
      title: this.model.titleOf(key),
      shown: !hidden.includes(key),
      pinned: pinnedStart.includes(key),
      noRoom: this.screen.geometry.givenWay.has(key),
    }))
  }

  private showFoot(): void {
    const { report, screen } = this
    const none = this.lines.lineCount === 0
    const { from, page, pages } = this.pager.span
    const { pageSize } = this.model
    const sizes = this.definition?.pages?.sizes ?? []
    this.foot.pages.show(pageSize === null ? null : { page, pages, size: pageSize, sizes })
    this.foot.show({
      from: none ? 0 : from + screen.body.first + 1,
      to: none ? 0 : from + screen.body.end,
      grouped: this.arrangement.group !== null,
      passing: report?.passing ?? 0,
      total: report?.total ?? 0,
      atLeast: (this.shown?.counts.total.kind ?? 'exact') !== 'exact',
      selected: this.selector.rows.size,
    })
  }

  // ── Lines and rows ──────────────────────────────────────────────────────────────────────────────────────────

  private get lines(): LineReader {
    return this.pager.lines
  }

  private selectionChanged(): void {
    const count = this.selector.rows.size
    const passing = this.report?.passing ?? 0
    this.screen.body.refreshSelected()
    this.screen.header.setAllSelected(count === 0 ? 'false' : count >= passing ? 'true' : 'mixed')
    this.showFoot()
    if (count > 0) this.announcer.say(this.texts.selected(this.numbers.format(count)))
    this.emitter.emit('selection', { count })
  }

  // ── What the parts ask of the grid ───────────────────────────────────────────────────────────────────────────

  private screenHost(): ConstructorParameters<typeof Screen>[4] {
    const grid = (): Grid => this
    return {
      get lines() {
        return grid().lines
      },
      readBeside: () => this.drawing.readBeside,
      wants: height => this.wantsHeight(height),
      drawn: () => {
        this.showFoot()
        this.asking.drawn()
      },
      measured: measures => this.emitter.emit('measures', measures),
    }
  }

  /** Where the grid is as high as its rows: what scrolls gets the room it wants, as far as the limit leaves it. */
  private wantsHeight(height: number): void {
    if (this.definition?.fit.kind === 'rows') this.screen.area.style.flexBasis = `${height}px`
  }

  private selectorHost(): SelectorHost {
    const grid = (): Grid => this
    return {
      get lineCount() {
        return grid().lines.lineCount
      },
      passingRows: async () =>
        this.shown ? await this.model.ask('passingRows', { view: this.shown.id }) : undefined,
      rowsBetween: async (from, to) => {
        const before = this.pager.span.from
        if (!this.shown) return undefined
        const view = this.shown.id
        return await this.model.ask('rowsBetween', { view, from: from + before, to: to + before })
      },
      rowAt: line => {
        const shown = this.lines.line(line)
        return shown?.kind === 'row' ? shown.row : null
      },
      changed: () => this.selectionChanged(),
    }
  }

  private rowBandHost(format: (count: number) => string): RowBandHost {
    const grid = (): Grid => this
    const { drawing } = this
    return {
      texts: this.texts,
      get lines() {
        return grid().lines
      },
      get rules() {
        return drawing.rules
      },
      get striped() {
        return drawing.striped
      },
      get rowsBefore() {
        return grid().pager.span.from + grid().screen.headRows
      },
      painterOf: (column, defined) => drawing.painterOf(column, defined),
      classesOf: column => drawing.classesOf(column),
      isSelected: row => this.selector.rows.has(row),
      format,
    }
  }

  private navigatorHost(): NavigatorHost {
    const grid = (): Grid => this
    return {
      get lineCount() {
        return grid().lines.lineCount
      },
      get pageLines() {
        return grid().screen.pageLines
      },
      get rtl() {
        return grid().screen.viewport.rtl
      },
      columns: () => this.screen.columns,
      reveal: (line, column) => this.screen.reveal(line, column),
      element: (line, column) => this.screen.cellElement(line, column),
      placeOf: element => this.acts.placeOf(element),
      enter: (line, column, adding) => this.acts.enter(line, column, adding),
      space: (line, column, extending) => this.acts.space(line, column, extending),
      selectAll: () => void this.selector.toggleAll(false),
      setOpen: (line, open) => {
        const head = this.lines.line(line)
        return head?.kind === 'head' && head.open !== open && this.acts.toggleGroup(line)
      },
      resize: (column, by) => this.model.setWidth(column, this.model.widthOf(column) + by),
      isHead: line => this.lines.line(line)?.kind === 'head',
      enterStrip: column => (this.definition?.strip ?? false) && this.asking.strip.focus(column),
      openMenu: (line, column) => this.acts.openMenu(line, column),
    }
  }

  private changesHost(): RowChangesHost {
    const grid = (): Grid => this
    return {
      get loading() {
        return grid().loader.busy
      },
      place: () => this.place(),
      refresh: () => this.refresh(),
      problem: message => this.emitter.emit('problem', { message }),
      failed: error => this.askFailed(error),
    }
  }

  private askingHost(format: (count: number) => string): AskingHost {
    const grid = (): Grid => this
    return {
      frame: this.frame,
      bar: this.bar,
      screen: this.screen,
      navigator: this.navigator,
      get report() {
        return grid().report
      },
      get view() {
        return grid().shown!.id
      },
      format,
      failed: error => this.askFailed(error),
      goTo: (line, column) => this.goTo(line, column),
      get tellsWhy() {
        return grid().emitter.has('why')
      },
      why: row => void this.acts.askWhy(row),
    }
  }

  /** Brings a line into view, on its page where there are pages, and the keyboard onto one of its cells. */
  private goTo(line: number, column: string): void {
    const { pageSize } = this.model
    if (pageSize !== null) this.model.apply({ page: Math.floor(line / pageSize) }, 'code')
    const at = this.pager.placeOf(line)
    this.screen.centre(at)
    this.navigator.go(at, column)
  }
}
