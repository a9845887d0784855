import {
  CancelledError,
  DEFAULT_LOCALE,
  nearestName,
  NO_LINE,
  readArrangement,
  runSliced,
  sameRows,
  WHERE_KEY,
  asLine,
} from '@vast-meadow/engine/client'
import type {
  Among,
  LineIndex,
  Arrangement,
  ArrangementChange,
  ComputedProblem,
  Definition,
  DefinitionInput,
  FlowReport,
  LeftOut,
  LineReader,
  Progress,
  RowId,
  RowSource,
  SourceDescription,
  SourceInput,
  Transaction,
  GroupPath,
  HeadLine,
  View,
} from '@vast-meadow/engine'
import type { EditMarks, RowBandHost } from '../body/row-band.ts'
import { groupName, type BesideRows, type GroupLines } from './beside-lines.ts'
import { CellDrawing } from '../cell/cell-drawing.ts'
import { newSheet } from '../look/sheets.ts'
import { gridSheet } from '../look/styles.ts'
import { HeadingDrag, type HeadingDragHost } from '../header/heading-drag.ts'
import { ActionStates } from './action-states.ts'
import { Announcer } from './announcer.ts'
import { BarView } from './bar-view.ts'
import { elementOf, Disposal, isInDetail, make } from './dom.ts'
import { Emitter } from './events.ts'
import { Features, type Feature, type Place } from './feature.ts'
import { FootView } from './foot-view.ts'
import { definitionOf, GridModel } from './grid-model.ts'
import { LongPress } from './long-press.ts'
import { Navigator, type NavigatorHost } from './navigator.ts'
import {
  isRowSource,
  rowList,
  sourceGiven,
  type Allow,
  type MeadowOptions,
  type RowsGiven,
} from './options.ts'
import { Pager, type Opened } from './pager.ts'
import { keepPlace, readPlace, type KeptPlace } from './kept-place.ts'
import { linesOfPlace, rowsOfPlace, topRow, type LinePlace, type RowPlace } from './place-keeper.ts'
import { RowChanges } from './row-changes.ts'
import { RowLoader, type RowsReady } from './row-loader.ts'
import { Screen } from './screen.ts'
import { Summaries } from './summaries.ts'
import { Sweep } from './sweep.ts'
import { NoticeView } from './notice-view.ts'
import { PartsWhenUsed } from './when-used.ts'
import { StateView } from './state-view.ts'
import { plainCopy, plainJson } from './plain-json.ts'
import { ArrangementError, problemOf, saidError, type Problem } from './problem.ts'
import { Ready } from './ready.ts'
import { knownLocale, textsOf } from '../languages/languages.ts'
import type { Texts } from './texts.ts'
import { characterWidth } from './character-width.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from './page-line.ts'
import { mediaQuery } from './simulated-dom.ts'

/** What was found out before rows take the others' place. */
interface Prepared {
  /** What to begin with; null: what is arranged already. */
  readonly begun: Begun | null
  readonly place: RowPlace | null
  /** Where a reader was on a visit before; null: nothing is known of that. */
  readonly kept: KeptPlace | null
}

interface Begun {
  readonly arrangement: Partial<Arrangement>
  /** A reader arranged it, on a visit before. */
  readonly byReader: boolean
}

/** So often is asked where a reader is who goes on meanwhile. */
const MOST_TRIES = 4
/** Work under way is shown only when it takes longer than this. */
const PATIENCE_MS = 150
/** Px of the lines where the place of the grid leaves its height open; `look/styles.ts` has it too. */
const OWN_HEIGHT = 400
/** The layout is looked at when the first rows are painted: it costs one of its own. */
const HEIGHT_AFTER_MS = 150
/** While lines move, what is said of them in the foot is this old at most. */
const READOUT_MS = 100
/** So many rows behind the keyboard’s are looked at for one that is still there. */
const MOST_FOLLOWING = 50
/** Cells of rows that changed come within so long. */
const FLASH_WITHIN_MS = 500
/** What decides which rows pass and where they stand. */
const MOVES_ROWS = ['order', 'conditions', 'where', 'search', 'groups'] as const
/** What decides where columns lie. */
const GEOMETRY_KEYS = ['compared', 'columns', 'widths', 'hidden', 'pinnedStart', 'pinnedEnd'] as const

/** Rows themselves are read into columns in the page; what is posted with other input must be plain. */
function inputOf(given: RowsGiven): RowSource | SourceInput {
  const source = sourceGiven(given)
  if (!source) return { kind: 'rows', rows: rowList(given) ?? [] }
  if (isRowSource(source)) return source
  if (source.kind === 'file') return { ...source, options: plainCopy(source.options) }
  if (source.kind === 'recipe' || source.kind === 'computed')
    return { ...source, recipe: plainCopy(source.recipe) }
  return source
}

/** Whether two lists hold the same, as frameworks give them anew with every rendering. */
async function sameLists(a: RowsGiven, b: RowsGiven): Promise<boolean> {
  const [before, now] = [rowList(a), rowList(b)]
  return before !== null && now !== null && (await runSliced(sameRows(before, now), { sliceMs: 6 }))
}

/**
 * What all features stand on: the arrangement and its transactions, rows and the view of them that is shown, the
 * scrolling layer, the keyboard, and the points at which features add to each of these (`feature.ts`).
 */
export class Kernel {
  readonly root: ShadowRoot
  readonly options: MeadowOptions
  readonly texts: Texts
  readonly disposal = new Disposal()
  readonly emitter = new Emitter()
  readonly model: GridModel
  /** What everything of the grid stands in; what floats is placed in it. */
  readonly frame: HTMLElement
  readonly bar: BarView
  readonly foot: FootView
  private notice: NoticeView | null = null
  private footTimer = 0
  private readonly stillness = mediaQuery('(prefers-reduced-motion: reduce)')
  readonly screen: Screen
  readonly navigator: Navigator
  readonly headingDrag: HeadingDrag
  readonly sweep: Sweep
  private readonly longPress: LongPress
  readonly announcer: Announcer
  readonly pager = new Pager()
  readonly changes: RowChanges
  readonly summaries: Summaries
  readonly actionStates = new ActionStates()
  readonly features: Features
  /** What comes when it is used. */
  readonly whenUsed: PartsWhenUsed
  /** On which sides of a cell its range ends, with `i` before them; null: no cells are picked. Asked of every cell that is drawn. */
  sidesOf: ((line: PageLine, column: string) => string) | null = null
  /** What was changed and is not saved; null: nothing is. */
  edits: EditMarks | null = null
  /** Until when cells that say something else have been changed by somebody else. */
  private flashUntil = 0
  /** New rows, which stand beside all others; null: there are none. */
  beside: BesideRows | null = null
  /** What the host may keep from happening. */
  allow: Allow
  /** What is wrong with expressions of the definition. */
  wrongExpressions: readonly ComputedProblem[] = []
  private numbers = new Intl.NumberFormat(DEFAULT_LOCALE)
  private readonly drawing: CellDrawing
  private readonly state: StateView
  private readonly loader: RowLoader<Prepared>
  private shownView: View | null = null
  /** The rows that are open, in the order of their lines in the view. */
  private opened: readonly Opened[] = []
  /** Where the heads stand below which there are new rows. */
  private groupLines: GroupLines = new Map()
  /** The definition that is drawn. */
  private drawnBy: Definition | null = null
  private stopArriving: () => void = () => {}
  /** Gives the newest request up. */
  private newest = new AbortController()
  /** Rows on their way. */
  private coming: { readonly rows: RowsGiven; readonly loading: Promise<void> } | null = null
  private heightTimer = 0
  /** What was told of columns already. */
  private readonly toldOf = new Set<string>()
  /** The newest request, until its lines are shown. */
  private asked: Promise<void> = Promise.resolve()
  /** Resolves when cells can be seen for the first time. */
  private firstSeen = new Ready()
  private unmounted = false

  /** `make`: makes the features over this kernel; they are there before any row is. */
  constructor(
    host: HTMLElement,
    options: MeadowOptions,
    makeFeatures: (kernel: Kernel) => readonly Feature[],
  ) {
    this.options = options
    this.allow = options.allow ?? {}
    this.texts = textsOf(options)
    this.features = new Features((feature, error) => {
      console.error(error)
      const reason = saidError(error, this.texts)
      this.tell({ code: 'feature-failed', message: this.texts.featureFailed(feature.name, reason) })
    })
    this.model = new GridModel(
      (arrangement, transaction) => this.changed(arrangement, transaction),
      options.clock,
      change => this.features.pipe(change, (feature, made) => feature.amend?.(made)),
    )
    this.model.locale = knownLocale(options.locale)
    this.model.hostSays = change => this.allow.arrange?.(change) ?? true
    this.model.refused = () => this.refresh()
    this.root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
    this.drawing = new CellDrawing(
      options.parts?.painters ?? {},
      newSheet(host.ownerDocument),
      message => this.tell({ code: 'painter-failed', message }),
      address => this.texts.noPicture(address),
      (row, column, action) => this.actionStates.of(row, column, action),
    )
    this.root.adoptedStyleSheets = [gridSheet(host.ownerDocument), this.drawing.sheet]
    const { texts, model, disposal, format } = this
    this.frame = make('div', 'meadow')
    // What a grid before left for what the host holds itself is not seen any more.
    this.root.replaceChildren(this.frame)
    this.frame.setAttribute('part', 'grid')
    this.bar = new BarView(this.frame, texts, disposal)
    const area = make('div', 'middle-area', this.frame)
    disposal.add(() => {
      clearTimeout(this.footTimer)
      clearTimeout(this.heightTimer)
    })
    this.screen = new Screen(area, model, texts, this.rowBandHost(), this.screenHost(), disposal)
    this.summaries = new Summaries(model, {
      shownColumns: () => this.screen.columns,
      arrived: () => {
        this.screen.summarised()
        this.features.all(feature => feature.summarised?.())
      },
      failed: this.failed,
    })
    this.state = new StateView(area, texts, format)
    this.foot = new FootView(this.frame, texts, format)
    this.whenUsed = new PartsWhenUsed(
      this.frame,
      {
        rest: () => this.ready,
        dress: async () => {
          const { cardSheet } = await import('../look/card-styles.ts')
          this.adopt(cardSheet(host.ownerDocument))
        },
        failed: (error, again) => this.notLoaded(error, again),
      },
      disposal,
    )
    this.announcer = new Announcer(this.frame, model, texts, format)
    disposal.add(() => this.announcer.dispose())
    this.navigator = new Navigator(this.screen.viewport.view, this.navigatorHost(), disposal)
    this.headingDrag = new HeadingDrag(this.frame, this.screen.head, this.headingDragHost(), disposal)
    this.sweep = new Sweep(this.screen, disposal)
    const longPressed = {
      menu: (target: Element | null): boolean => {
        const at = this.cellAt(target)
        return at !== null && this.features.some(feature => feature.menu?.(at))
      },
      held: (target: Element | null): void => {
        const at = this.cellAt(target)
        if (at) {
          this.navigator.stand(at.line, at.column)
          this.navigator.restore(true)
        }
        this.sweep.hold()
      },
    }
    this.longPress = new LongPress(this.frame, this.screen.viewport.view, longPressed, disposal)
    this.listen()
    this.changes = new RowChanges(model, this.features, {
      loading: () => this.loader.busy,
      place: () => this.place(),
      refresh: () => this.reread(),
      changedByItself: () => {
        if (this.model.definition?.flash && !this.stillness.matches)
          this.flashUntil = performance.now() + FLASH_WITHIN_MS
        this.features.all(feature => feature.changedByItself?.())
      },
      problem: message => this.tell({ code: 'failed', message }),
      line: problem => {
        if (problem) this.tell({ code: 'failed', message: problem.message })
        // What could not be asked meanwhile is asked now.
        else void this.reread().catch(this.failed)
        this.features.all(feature => feature.lineTold?.(problem?.message ?? null))
      },
      failed: error => this.failed(error),
      lost: error => this.lose(error),
    })
    this.loader = new RowLoader(
      options.placement,
      { conditions: options.parts?.conditions, summaries: options.parts?.summaries },
      {
        needsAll: () => this.shownView !== null || (this.options.place ?? null) !== null,
        prepare: (source, description) => this.prepare(source, description),
        loaded: rows => this.loaded(rows),
        loading: progress => this.showLoading(progress),
        failed: (error, retry) => this.loadFailed(error, retry),
      },
    )
    this.features.set(makeFeatures(this))
    void this.start().catch(() => {})
  }

  get ready(): Promise<void> {
    return this.firstSeen.promise
  }

  /** Tells of what went wrong, beside what is shown. */
  tell(problem: Problem): void {
    this.emitter.emit('problem', problem)
  }

  /** Writes a count in the language of the definition. */
  readonly format = (count: number): string => this.numbers.format(count)

  /** The view that is shown; null: none yet. */
  get view(): View | null {
    return this.shownView
  }

  get report(): FlowReport | null {
    return this.shownView?.report ?? null
  }

  /** The lines that can be scrolled over: those of the view, or of one page of it. */
  get lines(): LineReader {
    return this.pager.lines
  }

  /** Puts on the looks of what came later. */
  adopt(sheet: CSSStyleSheet): void {
    const { adoptedStyleSheets: worn } = this.root
    if (!this.unmounted && !worn.includes(sheet)) this.root.adoptedStyleSheets = [...worn, sheet]
  }

  /** A part did not come when it was wanted: that is said where something was done, with a way to try again. */
  private notLoaded(error: unknown, again: () => void): void {
    console.error(error)
    const message = this.texts.partNotLoaded
    this.tell({ code: 'part-not-loaded', message })
    this.announcer.say(message)
    if (!this.notice) {
      this.notice = new NoticeView(this.texts, this.disposal)
      this.foot.addAtEnd(this.notice.element)
    }
    this.notice.show(message, [{ text: this.texts.tryAgain, act: again }], true)
  }

  // ── Rows come in ─────────────────────────────────────────────────────────────────────────────────────────────

  async setRows(rows: RowsGiven, input?: DefinitionInput): Promise<void> {
    // Rows that were asked for may come when nobody wants them any more.
    if (this.unmounted) return
    const definition = input ? this.defined(input) : null
    // Rows are the first also where there were none at mounting, or others could not be had.
    if (this.firstSeen.settled && !this.shownView) this.firstSeen = new Ready()
    const list = rowList(rows)
    if (list && !definition) {
      const { coming } = this
      if (coming && (await sameLists(coming.rows, rows))) {
        await coming.loading
        return
      }
      if (await this.changes.become(list)) return
    }
    await this.load(rows, definition)
  }

  async setDefinition(input: DefinitionInput | null): Promise<void> {
    const { model } = this
    try {
      model.given = input && this.defined(input)
    } catch (error) {
      this.failed(error)
      throw error
    }
    const { description } = model
    if (this.unmounted || !model.source || !description) return
    await this.define(model.definitionFor(description), this.place())
  }

  /** A definition as it is given, in the language of the page where it names none. */
  private defined(input: DefinitionInput): Definition {
    const { locale } = this.options
    return definitionOf(locale === undefined ? input : { locale, ...input })
  }

  cancelLoading(): void {
    this.loader.cancel()
  }

  unmount(): void {
    if (this.unmounted) return
    this.unmounted = true
    this.loader.close()
    this.newest.abort()
    this.stopArriving()
    this.changes.close()
    this.model.close()
    this.disposal.dispose()
    this.emitter.clear()
    this.root.host.removeAttribute('data-own-height')
    this.firstSeen.giveUp()
    this.root.adoptedStyleSheets = []
    // A shadow root stays for good: what the host holds itself shows again through a slot.
    this.root.replaceChildren(make('slot'))
  }

  private async start(): Promise<void> {
    const { rows, source, definition } = this.options
    const given = source ?? rows
    try {
      this.model.given = definition ? this.defined(definition) : null
      if (!given) {
        this.firstSeen.done()
        return
      }
      await this.load(given, null)
    } catch (error) {
      // Whoever mounts the grid listens to it only then.
      await Promise.resolve()
      if (!this.loader.busy && !this.shownView) this.firstSeen.fail(error)
      if (!given || !this.loader.told(error)) this.loadFailed(error, null)
      throw error
    }
  }

  private async load(rows: RowsGiven, definition: Definition | null): Promise<void> {
    const loading = this.loader.load(inputOf(rows), definition).then(() => this.changes.hold(rows))
    const mine = (this.coming = { rows, loading })
    try {
      await loading
    } catch (error) {
      if (!this.loader.busy && !this.shownView) this.firstSeen.fail(error)
      // Rows that came later have taken these ones' place, or nobody waits any more: nothing failed.
      if (error instanceof CancelledError && this.unmounted) return
      if (!(error instanceof CancelledError) || this.coming === mine) throw error
      await this.newestRows()
    } finally {
      if (this.coming === mine) this.coming = null
    }
  }

  /** Waits for the rows that are on their way, and for those that take their place meanwhile. */
  private async newestRows(): Promise<void> {
    for (let { coming } = this; coming; { coming } = this) {
      const mine = coming
      try {
        await mine.loading
        return
      } catch (error) {
        if (this.unmounted) return
        if (!(error instanceof CancelledError) || this.coming === mine) throw error
      }
    }
  }

  /** What a reader holds on to. */
  private place(): RowPlace {
    const standing = this.standing()
    const { line } = this.navigator
    const at = line >= 0 ? this.lines.line(line) : undefined
    return {
      standing,
      selected: null,
      open: this.openRows(),
      top: topRow(this.lines, this.screen.viewport.offset, this.screen.heights, line =>
        this.pager.ofView(line),
      ),
      focused: at?.kind === 'row' || at?.kind === 'detail' ? at.row : null,
      following: at ? this.rowsAfter(line) : [],
    }
  }

  /** Some rows that follow a line. */
  private rowsAfter(line: PageLine): RowId[] {
    const rows: RowId[] = []
    const { lines } = this
    for (let at = line + 1; at < lines.lineCount && at <= line + MOST_FOLLOWING; at++) {
      const shown = lines.line(at)
      if (shown?.kind === 'row') rows.push(shown.row)
    }
    return rows
  }

  private openRows(): readonly RowId[] {
    return this.features.all(feature => feature.openRows?.() ?? null).find(rows => rows !== null) ?? []
  }

  /** The rows changed by themselves or by a commit: what is shown is asked for again, at its place. */
  private async reread(): Promise<void> {
    const { model } = this
    const { source } = model
    if (!source) return
    const place = this.place()
    // Who has not moved from the first of some rows sees the first of all.
    const wereFirst = model.description?.total.kind === 'at-least'
    const isAtStart = this.screen.viewport.offset === 0
    const description = await source.ask('description', { binding: model.binding })
    if (this.unmounted || model.source !== source) return
    const before = model.description?.fields ?? []
    const sameFields = JSON.stringify(description.fields) === JSON.stringify(before)
    const types = new Map(before.map(({ key, type }) => [key, type]))
    const anew = description.fields.filter(({ key, type }) => (types.get(key) ?? type) !== type)
    if (anew.length > 0)
      this.announcer.sayBeside(this.texts.readAnew(anew.map(({ key }) => model.titleOf(key)).join(', ')))
    model.description = description
    this.emitter.emit('open', { description })
    this.summaries.rowsDiffer = true
    const shown = wereFirst && isAtStart ? { ...place, top: null } : place
    if (sameFields) await this.ask(false, shown)
    else await this.define(model.definitionFor(description), shown)
  }

  private showLoading(progress: Progress | null): void {
    if (progress) this.emitter.emit('progress', progress)
    if (!this.shownView) this.state.show({ kind: 'loading', progress })
    else this.bar.setWorking(true)
  }

  /** What is shown of the rows is not to be trusted: it goes, and why is said in its place. */
  private lose(error: unknown): void {
    this.stopArriving()
    this.shownView?.close()
    this.shownView = null
    this.drawnBy = null
    this.opened = []
    this.pager.clear()
    this.screen.viewport.view.ariaRowCount = String(this.screen.headRows)
    this.screen.linesChanged(null)
    this.showFoot()
    this.loader.lost(error)
  }

  private loadFailed(error: unknown, retry: (() => void) | null): void {
    if (this.unmounted) return
    this.bar.setWorking(false)
    this.failed(error)
    if (this.shownView) return
    const action = retry && { text: this.texts.retry, act: retry }
    const cancelled = problemOf(error, this.texts) === null
    this.state.show(
      cancelled && action
        ? { kind: 'cancelled', action }
        : { kind: 'failed', message: saidError(error, this.texts), action },
    )
  }

  /** What is found out before rows take the others' place: a newer loading may yet overtake this one. */
  private async prepare(source: RowSource, description: SourceDescription): Promise<Prepared> {
    const { model } = this
    const { fields } = description
    const begun = model.definition ? null : await this.firstArrangement()
    const before = begun && this.placeBefore()
    if (begun && before) {
      const { key } = model.definitionFor(description)
      const arrangement = { ...begun.arrangement, page: before.page }
      return {
        begun: { ...begun, arrangement },
        place: await rowsOfPlace(source, key, before.keys),
        kept: before,
      }
    }
    const keys = this.shownView && (await this.changes.keysOfPlace())
    const known = model.keyFields.every(key => fields.some(field => field.key === key))
    const place = keys && known ? await rowsOfPlace(source, model.keyFields, keys) : null
    return { begun, place, kept: null }
  }

  /** Where a reader was on a visit before, as the host kept it; what is no place is told of. */
  private placeBefore(): KeptPlace | null {
    const { place } = this.options
    if (place === undefined || place === null) return null
    const read = readPlace(plainJson(place))
    if (!read) this.tell({ code: 'place-not-valid', message: this.texts.noPlace })
    return read
  }

  /** Where the reader is, to be given as `options.place` on the next visit; null: there are no rows. */
  async keptPlace(): Promise<KeptPlace | null> {
    const { model, navigator, pager, screen } = this
    if (!model.source || !this.shownView) return null
    const selected = this.features.all(feature => feature.held?.() ?? null).find(rows => rows !== null)
    return await keepPlace(
      model.source,
      model.keyFields,
      { ...this.place(), selected: selected ?? null },
      {
        page: pager.span.page,
        column: navigator.placed ? navigator.column : '',
        shift: screen.viewport.shift,
      },
    )
  }

  private async loaded({
    source,
    description,
    own,
    definition,
    prepared,
  }: RowsReady<Prepared>): Promise<void> {
    const { model } = this
    const { begun, place, kept } = prepared
    if (definition) model.given = definition
    const hadFocus = this.navigator.hasFocus
    this.stopArriving()
    this.changes.follow(null)
    this.shownView?.close()
    this.shownView = null
    this.drawnBy = null
    this.pager.clear()
    model.takeSource(source, description, own)
    model.characterPx ??= characterWidth(this.frame)
    this.changes.follow(source)
    const selected = place?.selected ?? { kind: 'run' as const, from: 0, to: 0 }
    this.features.all(feature => feature.holdAgain?.(selected))
    this.features.all(feature => feature.openAgain?.(place?.open ?? []))
    this.emitter.emit('open', { description })
    this.summaries.rowsDiffer = true
    await this.define(model.definitionFor(description), place, begun)
    if (kept) this.goBackTo(kept)
    // The focused cell was taken away with its row; nobody else has the focus since.
    const { activeElement, body } = this.root.ownerDocument
    if (hadFocus && activeElement === body) this.navigator.restore(true)
  }

  /** Lines and selection are there again; columns and the keyboard's place go along. */
  private goBackTo({ shift, column }: KeptPlace): void {
    if (this.unmounted) return
    if (shift > 0) this.screen.viewport.scrollToShift(shift)
    if (column !== '' && this.screen.columns.includes(column)) this.navigator.column = column
  }

  /** What a store kept, else what the host gave; what is no arrangement is told of and left out. */
  private async firstArrangement(): Promise<Begun> {
    const begun = await Promise.all(this.features.all(async feature => (await feature.begins?.()) ?? null))
    const given = [
      ...begun.map(arrangement => ({ arrangement, byReader: true })),
      { arrangement: this.options.arrangement ?? null, byReader: false },
    ]
    for (const { arrangement, byReader } of given) {
      if (arrangement === null) continue
      const read = readArrangement(plainJson(arrangement), null)
      if (read.ok) return { arrangement: read.arrangement, byReader }
      this.failed(new ArrangementError(read.problems))
    }
    return { arrangement: {}, byReader: false }
  }

  private async define(
    definition: Definition,
    place: RowPlace | null = null,
    begun: Begun | null = null,
  ): Promise<void> {
    this.tellOfLeftOut(this.model.define(definition, begun?.arrangement, begun?.byReader))
    await this.ask(false, place)
  }

  /** Tells what of a kept arrangement does not hold any more, each thing once. */
  tellOfLeftOut(leftOut: readonly LeftOut[]): void {
    for (const one of leftOut) {
      const message = this.texts.leftOut(one, column => this.model.titleOf(column))
      if (this.toldOf.has(message)) continue
      this.toldOf.add(message)
      this.tell({ code: 'left-out', message, ...(one.column !== null && { column: one.column }) })
    }
  }

  /**
   * The fields that a view has, what can be done with it, and what is wrong with fields that it should have. Tells whether
   * any of these are others.
   */
  private takeFields({ fields, problems, can }: View): boolean {
    const { model } = this
    const before = model.description
    const others =
      before !== null &&
      (JSON.stringify(before.fields) !== JSON.stringify(fields) ||
        (can !== undefined && JSON.stringify(before.can) !== JSON.stringify(can)))
    if (others) {
      const description = { ...before, fields, can: can ?? before.can }
      model.description = description
      this.emitter.emit('open', { description })
    }
    if (JSON.stringify(problems) === JSON.stringify(this.wrongExpressions)) return others
    this.wrongExpressions = problems
    model.whereWrong = problems.some(({ key }) => key === WHERE_KEY)
    for (const { key, problem } of problems) {
      const place = model.definition?.columns.find(column => column.key === key)?.title ?? ''
      const message = `${place ? `“${place}”: ` : ''}${this.texts.expressionProblem(problem)}`
      this.tell({ code: 'expression', column: key, message })
    }
    return true
  }

  /** Everything that follows from the definition alone is drawn by it. */
  private showDefinition(definition: Definition): void {
    const { model, screen } = this
    this.drawnBy = definition
    this.numbers = new Intl.NumberFormat(definition.locale ?? DEFAULT_LOCALE)
    this.foot.forget()
    screen.viewport.view.ariaLabel = definition.title || this.texts.rows
    this.drawing.define(definition, definition.rowHeight === 'content')
    this.showFit(definition)
    this.features.all(feature => feature.defined?.(definition))
    screen.relay()
    const { source, binding } = model
    if (source && model.canTell('profile'))
      void this.drawing.measureBars(definition, source, binding, () => this.screen.body.refresh())
  }

  /** Says once where the place of the grid leaves its height open: it has then one of its own. */
  private tellOfHeight(): void {
    if (this.model.definition?.fit.kind !== 'fill') return
    const { area } = this.screen
    const before = area.offsetHeight
    if (before === 0) return
    area.style.setProperty('--_own-height', `${OWN_HEIGHT + 1}px`)
    const open = area.offsetHeight !== before
    area.style.removeProperty('--_own-height')
    if (open) console.warn(this.texts.noHeight)
  }

  /** How high the grid is in its place. */
  private showFit({ fit, look }: Definition): void {
    const { frame } = this
    frame.classList.toggle('by-rows', fit.kind === 'rows')
    frame.classList.toggle('striped', look.stripes)
    frame.dataset.rules = look.rules
    frame.style.blockSize = fit.kind === 'fixed' ? `${fit.height}px` : ''
    frame.style.maxBlockSize = fit.kind === 'rows' ? `${fit.most}px` : ''
    this.root.host.toggleAttribute('data-own-height', fit.kind !== 'fill')
  }

  // ── The arrangement changes, and the view with it ────────────────────────────────────────────────────────────

  private changed(arrangement: Arrangement, transaction: Transaction): void {
    const { change, why } = transaction
    this.screen.changeBegins()
    this.refresh()
    const moved = MOVES_ROWS.some(key => key in change)
    const searched = arrangement.search.trim() !== '' && 'hidden' in change
    if (GEOMETRY_KEYS.some(key => key in change)) this.screen.relay()
    if (change.summaries) this.showSummaries()
    this.features.all(feature => feature.arranged?.(arrangement, change, transaction))
    if (moved || searched || 'open' in change) void this.ask(moved).catch(this.failed)
    this.emitter.emit('arrangement', { arrangement, why })
  }

  /** What shows the arrangement shows it as it is now. */
  private refresh(): void {
    this.features.all(feature => feature.refresh?.())
    this.showChips()
  }

  /** What is active and can be lifted. */
  showChips(): void {
    this.bar.chips.show(this.features.all(feature => feature.chips?.() ?? []).flat())
  }

  /** Shows some rows alone, beside all else that is asked; null: any. */
  showAmong(among: Among | null): void {
    this.model.among = among
    this.screen.changeBegins()
    this.showChips()
    void this.ask(true).catch(this.failed)
  }

  /** So many rows are selected: rules that speak of it may hold elsewhere now. */
  selectedNow(count: number): void {
    const { model } = this
    if (count === model.selectedCount) return
    model.selectedCount = count
    if (model.speaksOfCount) void this.ask(false, this.place()).catch(this.failed)
  }

  /** Tells of what went wrong; giving up is nothing that did. */
  readonly failed = (error: unknown): void => {
    const problem = problemOf(error, this.texts)
    if (problem) this.tell(problem)
  }

  /** Asks the source for the lines of the present arrangement and shows them, or those of a newer one. */
  ask(toTop = false, place: RowPlace | null = null): Promise<void> {
    return (this.asked = this.askOnce(toTop, place))
  }

  /** Resolves when what was asked for last is shown; where that failed it was told. */
  settled(): Promise<void> {
    return this.asked.catch(() => {})
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
    let opened: readonly Opened[] = []
    let groupLines: GroupLines = new Map()
    try {
      view = await source.view(this.model.request(), { signal, early: true })
      opened = await this.openedIn(view)
      groupLines = await this.groupLinesIn(view)
      if (place) kept = await this.linesNow(source, view.id, place)
    } catch (error) {
      view?.close()
      // A newer request has taken this one's place and brings the lines; that is no failure.
      if (error instanceof CancelledError && mine !== this.newest) {
        await this.asked
        return
      }
      if (mine === this.newest && this.shownView && !(error instanceof CancelledError))
        this.features.all(feature => feature.notShown?.(saidError(error, this.texts)))
      throw error
    } finally {
      clearTimeout(patience)
      if (mine === this.newest) this.bar.setWorking(false)
    }
    const top = toTop ? { line: asLine(0), into: 0 } : (kept?.top ?? null)
    if (mine !== this.newest || this.unmounted) {
      view.close()
      if (!this.unmounted) await this.asked
    } else {
      this.opened = opened
      this.groupLines = groupLines
      this.features.all(feature => feature.notShown?.(null))
      this.showView(view, top, kept?.focused ?? NO_LINE)
      if (kept?.gone && this.navigator.hasFocus) this.sayWhereFocusWent()
    }
  }

  /** Where a reader is in the lines that are shown. */
  private standing(): string {
    this.screen.viewport.catchUp()
    return `${this.navigator.line} ${this.screen.viewport.offset}`
  }

  /** Where a place lies in a new view. Who has gone on since it was asked for holds on to something else by now. */
  private async linesNow(source: RowSource, view: View['id'], asked: RowPlace): Promise<LinePlace> {
    // A place in rows that were there before is known by itself alone.
    const mayMove = asked.standing !== undefined && this.shownView !== null
    const hasMoved = (place: RowPlace): boolean => mayMove && place.standing !== this.standing()
    for (let [place, tries] = [asked, 1]; ; tries++) {
      if (hasMoved(place)) place = { ...this.place(), ...(asked.top === null && { top: null }) }
      const lines = await linesOfPlace(source, view, place)
      // Who never rests sees the rows as they are now all the same.
      if (!hasMoved(place) || tries === MOST_TRIES) return lines
    }
  }

  /** The row of the keyboard is gone: says on which one it is now. */
  private sayWhereFocusWent(): void {
    const { navigator, lines, texts, screen } = this
    const at = navigator.line >= 0 ? lines.line(navigator.line) : undefined
    if (!at) this.announcer.sayBeside(texts.noRowLeft)
    else if (at.kind === 'row') {
      const named = this.model.keyFields[0] ?? screen.firstColumn
      const name =
        lines.text(navigator.line, at.row, named) || lines.text(navigator.line, at.row, screen.firstColumn)
      this.announcer.sayBeside(texts.focusWentOn(name || texts.noValueName))
    }
  }

  /** Where the heads stand in a view below which there are new rows. */
  private async groupLinesIn(view: View): Promise<GroupLines> {
    const { beside, model } = this
    const paths = new Map<string, GroupPath>()
    for (const row of beside?.rows ?? []) {
      const path = beside?.groupOf(row)
      if (path) paths.set(groupName(path), path)
    }
    if (paths.size === 0 || !model.canTell('groupAt')) return new Map()
    const found = [...paths].map(async ([name, path]) => {
      const head = await model.ask('groupAt', { view: view.id, path })
      return [name, head?.line ?? null] as const
    })
    return new Map(await Promise.all(found))
  }

  /** The open rows that have lines of their own in a view. */
  private async openedIn(view: View): Promise<readonly Opened[]> {
    const rows = this.openRows()
    if (rows.length === 0) return []
    const lines = (await this.model.ask('linesOf', { view: view.id, rows, ownOnly: true })) ?? []
    return rows
      .map((row, nth) => ({ row, line: lines.at(nth) ?? NO_LINE }))
      .filter(({ line }) => line >= 0)
      .sort((a, b) => a.line - b.line)
  }

  /** Other rows are open now; what is in view above them stays where it is. */
  async showOpened(): Promise<void> {
    const view = this.shownView
    if (!view) return
    const opened = await this.openedIn(view)
    if (view !== this.shownView || this.unmounted) return
    const { navigator, pager, screen } = this
    const hadFocus = navigator.hasFocus
    const focused = pager.ofView(navigator.line)
    const wasDetail = navigator.line >= 0 && this.lines.line(navigator.line)?.kind === 'detail'
    const held = screen.heldLine()
    const heldLine = pager.ofView(held.line)
    this.opened = opened
    this.takePage()
    if (navigator.line >= 0) {
      const line = pager.onPage(focused)
      const stays = wasDetail && this.lines.line(line + 1)?.kind === 'detail'
      navigator.follow(stays ? asPageLine(line + 1) : line)
    }
    this.tellRowCount(view)
    this.tellRole()
    const at = pager.onPage(heldLine)
    screen.linesChanged(at >= 0 ? { line: at, into: -held.top } : null)
    navigator.restore(hadFocus)
  }

  /** Rows in groups, and rows that open, have levels. */
  private tellRole(): void {
    const { arrangement, definition } = this.model
    const nested = arrangement.groups.length > 0 || definition?.detail !== undefined
    this.screen.viewport.view.setAttribute('role', nested ? 'treegrid' : 'grid')
  }

  /** `atTop`: what shall be at the top, else the offset stays; `focusedLine`: that of the focused row, else it stays. */
  private showView(view: View, atTop: LinePlace['top'], focusedLine: LineIndex): void {
    const hadFocus = this.navigator.hasFocus
    this.stopArriving()
    this.shownView?.close()
    this.shownView = view
    const { definition } = this.model
    const redefined = definition !== null && definition !== this.drawnBy
    const otherFields = this.takeFields(view)
    if (redefined) this.showDefinition(definition)
    this.heightTimer ||= window.setTimeout(() => this.tellOfHeight(), HEIGHT_AFTER_MS)
    if (redefined || otherFields) this.tellOfColumns()
    if (redefined || otherFields) this.refresh()
    this.stopArriving = view.lines.onArrive(() => {
      if (!this.pager.complete) this.completePage()
      this.screen.arrived()
      this.navigator.settle()
      this.seen()
    })
    this.takePage()
    // The start is that of the page, new rows included.
    const isStart = atTop?.line === 0 && atTop.into === 0
    const line = isStart ? asPageLine(0) : atTop ? this.pager.onPage(atTop.line) : ABOVE_LINES
    const top = atTop && line >= 0 ? { ...atTop, line } : null
    const focused = this.pager.onPage(focusedLine)
    this.tellRole()
    this.tellRowCount(view)
    if (focused >= 0) this.navigator.follow(focused)
    this.summaries.viewed()
    this.screen.linesChanged(top)
    this.navigator.restore(hadFocus)
    this.showState(view.report)
    this.features.all(feature => feature.viewed?.(view))
    this.announcer.passing(view)
    this.emitter.emit('flow', { report: view.report })
    this.seen()
  }

  private tellRowCount({ counts }: View): void {
    const { kind, rows } = counts.lines
    const beside = this.beside?.rows.length ?? 0
    const around = this.screen.headRows + this.screen.footRows + this.opened.length + beside
    this.screen.viewport.view.ariaRowCount = kind === 'exact' ? String(rows + around) : '-1'
  }

  /** Cells can be seen, where those of the first line are there. */
  private seen(): void {
    if (this.lines.lineCount === 0 || this.lines.line(this.screen.body.first)) this.firstSeen.done()
  }

  /** Says which columns show a field that the rows do not have; their place in the grid says it too. */
  private tellOfColumns(): void {
    const { model, texts } = this
    const fields = model.description?.fields.map(({ key }) => key) ?? []
    const absent = model.columnsWithoutField.map(({ key }) => ({ key, nearest: nearestName(key, fields) }))
    this.drawing.absent = new Map(absent.map(({ key, nearest }) => [key, texts.noField(key, nearest)]))
    for (const { key, nearest } of absent) {
      const message = texts.noFieldForColumn(model.titleOf(key), key, nearest)
      if (this.toldOf.has(message)) continue
      this.toldOf.add(message)
      this.tell({ code: 'no-such-field', column: key, nearest, message })
    }
  }

  /** It is known by now which heads stand at the top of the page again. */
  private completePage(): void {
    this.takePage()
    if (this.pager.complete) this.screen.linesChanged(null)
  }

  /** Other summaries are shown, in the columns as they lie. */
  private showSummaries(): void {
    this.screen.relay()
    this.screen.body.refresh()
    this.summaries.ask()
  }

  /** Takes the lines of the present page. */
  private takePage(): void {
    if (this.shownView)
      this.pager.take(
        this.shownView.lines,
        this.model.pageSize,
        this.model.arrangement.page,
        this.opened,
        this.beside,
        this.groupLines,
      )
  }

  /** A new row is about to stand below the head of a group, as it is shown. */
  holdGroup({ path, line }: HeadLine): void {
    this.groupLines = new Map(this.groupLines).set(groupName(path), this.pager.ofView(asPageLine(line)))
  }

  /** There are other new rows; what is in view stays where it is. */
  besideDiffers(): void {
    const { shownView: view, navigator, pager, screen } = this
    if (!view) return
    const hadFocus = navigator.hasFocus
    const focused = pager.ofView(navigator.line)
    const held = screen.heldLine()
    const heldLine = pager.ofView(held.line)
    this.takePage()
    if (focused >= 0) navigator.follow(pager.onPage(focused))
    this.tellRowCount(view)
    const at = pager.onPage(heldLine)
    // Who is at the start sees what comes there.
    const stays = heldLine >= 0 && at >= 0 && screen.viewport.offset > 0
    screen.linesChanged(stays ? { line: at, into: -held.top } : null)
    this.showState(view.report)
    navigator.restore(hadFocus)
  }

  /** Another page, or as many lines as were not on one before. */
  turnPage(): void {
    if (!this.shownView) return
    const hadFocus = this.navigator.hasFocus
    this.takePage()
    this.screen.linesChanged({ line: asPageLine(0), into: 0 })
    this.navigator.restore(hadFocus)
  }

  private showState({ total, passing }: FlowReport): void {
    if (this.lines.lineCount > 0) this.state.show({ kind: 'ready' })
    else if (total === 0) this.state.show({ kind: 'empty' })
    else if (passing === 0) this.showNothingPasses(total)
    else this.state.show({ kind: 'ready' })
  }

  /** Says at once that nothing passes, and what holds the rows back as soon as that is counted. */
  private showNothingPasses(total: number): void {
    const { model, texts, shownView } = this
    const hint = texts.nothingPassesHint(this.format(total), total)
    const lifted = this.features
      .all(feature => feature.lifted)
      .reduce<ArrangementChange>((all, one) => ({ ...all, ...one }), {})
    const action = { text: texts.liftAll, act: () => this.liftAll(lifted) }
    this.state.show({ kind: 'nothing-passes', hint, hindering: [], action })
    model.ask('explain', { request: model.request() }).then(told => {
      if (!told || shownView !== this.shownView || this.unmounted) return
      const hindering = this.features.all(feature => feature.hindrances?.(told) ?? []).flat()
      this.state.show({ kind: 'nothing-passes', hint, hindering, action })
    }, this.failed)
  }

  /** Nothing holds rows back any more. */
  private liftAll(change: ArrangementChange): void {
    this.features.all(feature => feature.liftAll?.())
    this.model.apply(change, 'reader')
  }

  // ── The scrolling layer ─────────────────────────────────────────────────────────────────────────────────────

  /** Brings a line of the view into the scrolled room, on its page where there are pages, and the keyboard onto a cell. */
  goTo(line: LineIndex, column: string): void {
    const { pageSize } = this.model
    if (pageSize !== null) this.model.apply({ page: Math.floor(line / pageSize) }, 'code')
    const at = this.pager.onPage(line)
    this.screen.centre(at)
    this.navigator.go(at, column)
  }

  /** Brings a row into view and the keyboard onto it; false where it is held back. */
  async goToRow(row: RowId): Promise<boolean> {
    const { model } = this
    const lineOf = async (): Promise<LineIndex> => {
      const { shownView: view } = this
      return (view && (await model.ask('linesOf', { view: view.id, rows: [row] }))?.[0]) ?? NO_LINE
    }
    let line = await lineOf()
    // Each closed group on the way is opened.
    for (let level = 0; level < model.arrangement.groups.length; level++) {
      const head = line >= 0 ? this.shownView?.lines.line(line) : undefined
      if (head?.kind !== 'head') break
      model.toggleGroup(head.path)
      await this.ask()
      line = await lineOf()
    }
    if (line < 0) return false
    this.goTo(line, this.navigator.column || this.screen.firstColumn)
    return true
  }

  /** Puts the keyboard onto a row where it stands, as far as it does on the page. */
  async focusRow(row: RowId): Promise<void> {
    const { shownView: view, pager, navigator, screen } = this
    if (!view) return
    const [line = NO_LINE] =
      (await this.model.ask('linesOf', { view: view.id, rows: [row], ownOnly: true })) ?? []
    const at = pager.onPage(line)
    if (at >= 0 && !this.unmounted) navigator.go(at, navigator.column || screen.firstColumn)
  }

  /** Goes to a part of the length of all lines, 0 the first and 1 the last, whatever page it is on. */
  travelTo(part: number): void {
    const { pageSize, arrangement } = this.model
    const lines = this.shownView?.lines.lineCount ?? 0
    if (lines === 0) return
    const line = asLine(Math.min(lines - 1, Math.floor(part * lines)))
    if (pageSize !== null) {
      const page = Math.floor(line / pageSize)
      if (page !== this.pager.span.page || page !== arrangement.page) this.model.apply({ page }, 'reader')
    }
    this.screen.centre(this.pager.onPage(line))
  }

  /** The line and the column an element belongs to. */
  cellAt(element: Element | null): Place | null {
    const place = element && this.screen.cellAt(element)
    return place && { line: place.line, column: place.column ?? this.navigator.column }
  }

  private listen(): void {
    const { disposal, features } = this
    const { view } = this.screen.viewport
    const cellOf = (event: Event): Place | null => this.cellAt(elementOf(event.target))
    disposal.listen(view, 'click', event => {
      const at = cellOf(event)
      if (at) features.some(feature => feature.click?.(event, at))
    })
    disposal.listen(view, 'dblclick', event => {
      const at = cellOf(event)
      if (at) features.some(feature => feature.doubleClick?.(at))
    })
    disposal.listen(this.frame, 'keydown', event => {
      const field = elementOf(event.composedPath()[0] ?? null)?.closest(
        'input:not([type="checkbox"]), select, textarea',
      )
      if (event.defaultPrevented || field || isInDetail(event, true)) return
      if (!features.some(feature => feature.gridKey?.(event))) return
      event.preventDefault()
      event.stopPropagation()
    })
    disposal.listen(view, 'contextmenu', event => {
      const at = cellOf(event)
      // With Shift the browser's own menu is asked for; so it is where text is selected, and on links.
      const own = !event.shiftKey && !elementOf(event.target)?.closest('a[href], input')
      // A finger asks for it when it is lifted.
      if (
        this.headingDrag.fingerHolds ||
        this.longPress.isDown ||
        (at && own && features.some(feature => feature.menu?.(at)))
      )
        event.preventDefault()
    })
  }

  /** A line of text that changes with every step of a scroll would cost its layout each time, and nobody reads it. */
  private showFootSoon(): void {
    this.footTimer ||= window.setTimeout(() => this.showFoot(), READOUT_MS)
  }

  private showFoot(): void {
    clearTimeout(this.footTimer)
    this.footTimer = 0
    const { pager, report, screen } = this
    const none = this.lines.lineCount === 0
    this.foot.show({
      from: none ? 0 : pager.endOfView(asPageLine(screen.body.first)) + 1,
      to: none ? 0 : pager.endOfView(asPageLine(screen.body.end)),
      groups: report?.groups ?? [],
      passing: report?.passing ?? 0,
      total: report?.total ?? 0,
      counts: this.shownView?.counts ?? null,
    })
  }

  private screenHost(): ConstructorParameters<typeof Screen>[4] {
    const kernel = (): Kernel => this
    return {
      get lines() {
        return kernel().lines
      },
      get details() {
        return kernel().pager.details
      },
      detailHeightOf: row =>
        this.features.all(feature => feature.detailHeightOf?.(row) ?? null).find(px => px !== null) ?? null,
      readBeside: () => [...this.drawing.readBeside, ...this.model.arrangement.compared],
      wants: height => this.wantsHeight(height),
      headRowsDiffer: () => {
        if (this.shownView) this.tellRowCount(this.shownView)
      },
      drawn: moving => {
        if (moving) this.showFootSoon()
        else this.showFoot()
        this.summaries.ask()
        this.features.all(feature => feature.drawn?.())
      },
      summarised: () => this.summaries.columns,
      measured: measures => this.emitter.emit('measures', measures),
    }
  }

  /** Where the grid is as high as its rows: what scrolls gets the room it wants, as far as the limit leaves it. */
  private wantsHeight(height: number): void {
    if (this.model.definition?.fit.kind === 'rows') this.screen.area.style.flexBasis = `${height}px`
  }

  rowBandHost(): RowBandHost {
    const kernel = (): Kernel => this
    const { drawing } = this
    return {
      texts: this.texts,
      get lines() {
        return kernel().lines
      },
      get rules() {
        return drawing.rules
      },
      get selectedRules() {
        return drawing.selectedRules
      },
      get goesBySelection() {
        return drawing.goesBySelection
      },
      isShaded: line => drawing.striped && (this.pager.ofView(line) & 1) === 1,
      get opensRows() {
        return kernel().model.definition?.detail !== undefined
      },
      isOpen: row => this.features.some(feature => feature.isOpen?.(row)),
      detailOf: row =>
        this.features.all(feature => feature.detailOf?.(row) ?? null).find(one => one !== null) ?? null,
      get rowsBefore() {
        const { span, above, detailsBefore } = kernel().pager
        return span.from - above + detailsBefore + kernel().screen.headRows
      },
      painterOf: (column, defined) => drawing.painterOf(column, defined),
      classesOf: column => drawing.classesOf(column),
      groupState: line =>
        this.features.all(feature => feature.selectsGroup?.(line)).find(state => state !== undefined) ??
        'false',
      summaryOf: (line, column) => this.summaries.textOf(line, column),
      get coveredColumns() {
        return kernel().screen.coveredColumns
      },
      titleOf: column => this.model.titleOf(column),
      isSelected: row => this.features.some(feature => feature.selects?.(row)),
      get edits() {
        return kernel().edits
      },
      get flashes() {
        return performance.now() < kernel().flashUntil
      },
      get sidesOf() {
        return kernel().sidesOf
      },
      differs: (text, line, row, column) => this.differs(text, line, row, column),
      format: this.format,
    }
  }

  /** Whether a cell says something else than that of the column with which its own is compared. */
  private differs(text: string, line: PageLine, row: RowId, column: string): boolean {
    const { compared } = this.model.arrangement
    if (compared.length === 0 || !compared.includes(column)) return false
    const other = compared[0] === column ? compared[1] : compared[0]
    return (this.lines.text(line, row, other) ?? text) !== text
  }

  private headingDragHost(): HeadingDragHost {
    const { features } = this
    return {
      titleOf: column => this.model.titleOf(column),
      sharedAt: element => {
        const shared = this.screen.shared.headingAt(element)
        return shared && { columns: shared.columns, title: shared.heading.title }
      },
      dragged: column => void features.all(feature => feature.headingDragged?.(column)),
      pressedLong: column => void features.some(feature => feature.menu?.({ line: ABOVE_LINES, column })),
      over: (column, at) => features.all(feature => feature.headingOver?.(column, at)).includes(true),
      dropped: (column, at) => features.some(feature => feature.headingDropped?.(column, at)),
    }
  }

  private navigatorHost(): NavigatorHost {
    const kernel = (): Kernel => this
    return {
      get lineCount() {
        return kernel().lines.lineCount
      },
      get pageLines() {
        return kernel().screen.pageLines
      },
      get rtl() {
        return kernel().screen.viewport.rtl
      },
      columns: () => this.screen.columns,
      reveal: (line, column) => this.screen.reveal(line, column),
      element: (line, column) => this.screen.cellElement(line, column),
      cellAt: element => this.cellAt(element),
      key: (event, at) => this.features.some(feature => feature.key?.(event, at)),
      menu: at => this.features.some(feature => feature.menu?.(at)),
      card: at => this.features.some(feature => feature.card?.(at)),
    }
  }
}
