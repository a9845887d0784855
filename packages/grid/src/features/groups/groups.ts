import { conditionSummary, levelOf } from '@vast-meadow/engine/client'
import type { GroupPath, HeadLine, Keep, Level, LevelGroups } from '@vast-meadow/engine'
import type { Chip } from '../../kernel/chips-view.ts'
import { elementOf, make } from '../../kernel/dom.ts'
import { conditionWordsOf, levelName } from '../../kernel/arrangement-speaker.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ABOVE_LINES, asPageLine, type PageLine } from '../../kernel/page-line.ts'
import type { LevelCardHost } from './level-card.ts'
import { measureName } from './measure-words.ts'
import { TrailView } from './trail-view.ts'

/** Of the grid's handle: groups from code. */
export interface GroupsHandle {
  /** Brings the head of a group into view, opens the groups that it is in, and puts the keyboard onto it; false: there is none. */
  goToGroup(path: GroupPath): Promise<boolean>
}

/** Rows in groups: heads that open and close, and the trail that says by what. */
export function groups(kernel: Kernel): Feature {
  const { model, texts, screen, bar, announcer, navigator, disposal, format } = kernel
  const words = conditionWordsOf(texts, kernel.options.parts)
  const levels = (): readonly Level[] => model.arrangement.groups
  const arrange = (next: readonly Level[]): void => void model.apply({ groups: [...next] }, 'reader')
  const remove = (nth: number): void => arrange(levels().filter((_, i) => i !== nth))
  const move = (from: number, to: number): void => {
    const next = levels().filter((_, i) => i !== from)
    arrange([...next.slice(0, to), levels()[from], ...next.slice(to)])
  }
  const trail = new TrailView(texts, {
    titleOf: column => model.titleOf(column),
    mayGroup: column => model.canGroup(column),
    open: (nth, anchor) => openCard(nth, anchor),
    move,
    remove,
    pressed: (column, event) => kernel.headingDrag.begin(column, event, true),
  })
  bar.addAtStart(trail.element)
  const cardHost: LevelCardHost = {
    levels,
    change: (nth, level) => arrange(levels().map((old, i) => (i === nth ? level : old))),
    move,
    remove,
    leave: nth => (trail.stepAt(nth) ?? trail.stepAt(0))?.focus(),
    preview: (some, most) => preview(some, most),
  }
  const card = kernel.whenUsed.add(
    () => import('./level-card.ts'),
    ({ LevelCard }) => new LevelCard(kernel, cardHost, disposal),
    () => levels().length > 0,
  )
  const openCard = (nth: number, anchor: HTMLElement): void =>
    card.use(one => void one.open(nth, anchor).catch(kernel.failed))

  async function preview(some: readonly Level[], most: number): Promise<LevelGroups | undefined> {
    if (!model.canTell('levelGroups')) return undefined
    const asked = { request: model.requestFor(some), level: some.length - 1, from: 0, to: most }
    try {
      return await model.ask('levelGroups', asked)
    } catch (error) {
      kernel.failed(error)
      return undefined
    }
  }

  /** Groups by a column as well; where it stands already, it goes to the place. */
  async function groupBy(column: string, place = levels().length): Promise<void> {
    if (!model.canGroup(column)) return
    const at = levels().findIndex(level => level.column === column)
    if (at >= 0) {
      move(at, place > at ? place - 1 : place)
      return
    }
    const level = levelOf(column, { bucket: await model.bucketFor(column) })
    arrange([...levels().slice(0, place), level, ...levels().slice(place)])
  }

  const headAt = (line: PageLine): HeadLine | null => {
    const at = line >= 0 ? kernel.lines.line(line) : undefined
    return at?.kind === 'head' ? at : null
  }
  /** Opens or closes the group whose head is on a line; false where none is, or it is so already. */
  const toggle = (line: PageLine, open: boolean | null = null): boolean => {
    const head = headAt(line)
    if (!head || head.open === open) return false
    model.toggleGroup(head.path)
    return true
  }
  /** Scrolls so that a group's head stands where it would stay, under those of the groups around it. */
  const showHead = ({ line, level }: HeadLine): void => {
    screen.scrollTo(asPageLine(line), level)
    navigator.go(asPageLine(line), navigator.column)
  }

  /** The head of the next group or the one before, on the level where the line stands; ABOVE_LINES: none. */
  function neighbour(line: PageLine, step: 1 | -1): PageLine {
    const { lines } = kernel
    const around = lines.groupsAt?.(line)?.at(-1)
    if (!around) return ABOVE_LINES
    if (step === 1) {
      let next = Number(around.end)
      while (next < lines.lineCount && lines.line(next)?.kind === 'foot') next++
      return next < lines.lineCount ? asPageLine(next) : ABOVE_LINES
    }
    if (Number(around.line) !== Number(line)) return asPageLine(around.line)
    if (line === 0) return ABOVE_LINES
    const before = lines.groupsAt?.(line - 1)
    const head = before?.[Math.min(around.level, before.length - 1)]
    return head ? asPageLine(head.line) : ABOVE_LINES
  }

  async function siblings({ path }: HeadLine, open: boolean): Promise<void> {
    const some = levels().slice(0, path.length)
    const told = await preview(some, MOST_SIBLINGS)
    const around = JSON.stringify(path.slice(0, -1))
    const paths = told?.groups
      .map(group => group.path)
      .filter(one => JSON.stringify(one.slice(0, -1)) === around)
    if (paths) model.openGroups(paths, open)
  }

  async function goToGroup(path: GroupPath): Promise<boolean> {
    const find = async (): Promise<HeadLine | null> =>
      kernel.view ? ((await model.ask('groupAt', { view: kernel.view.id, path })) ?? null) : null
    await kernel.settled()
    let head = await find()
    if (!head) return false
    if (head.line < 0) {
      const closed = path.slice(0, -1).map((_, depth) => path.slice(0, depth + 1))
      model.openGroups(closed, true)
      await kernel.ask()
      head = await find()
    }
    if (!head || head.line < 0) return false
    kernel.goTo(head.line, navigator.column || screen.firstColumn)
    return true
  }

  /** What a level keeps, as chips that lift it. */
  function keptChips(level: Level, nth: number): Chip[] {
    const { keep, column } = level
    if (!keep || !model.canKeep(keep)) return []
    const chip = (after: string, rest: Level['keep']): Chip => ({
      before: texts.keepGroups.toLowerCase(),
      name: model.titleOf(column),
      after,
      lift: () => arrange(levels().map((old, i) => (i === nth ? { ...old, keep: rest } : old))),
      open: () => {
        const anchor = model.canGroup(column) ? trail.stepAt(nth) : undefined
        if (anchor) openCard(nth, anchor)
      },
    })
    const asked = keep.where.map((one, at): Chip => {
      const field = model.measurePhraseOf(one.of)?.field
      const show = one.of === 'size' ? String : model.showSummaryOf(one.of.column, one.of.summary)
      const said = field ? conditionSummary(one.condition, field, show, words) : ''
      const text =
        leastSize(one) !== null
          ? texts.keptLeast(format(leastSize(one) ?? 0), leastSize(one) ?? 0)
          : texts.keptWhere(measureName(one.of, kernel), said)
      const where = keep.where.filter((_, i) => i !== at)
      return chip(text, where.length > 0 || keep.most ? { ...keep, where } : undefined)
    })
    if (!keep.most) return asked
    const text = texts.keptMost(
      format(keep.most.count),
      measureName(keep.most.of, kernel),
      keep.most.direction === 'ascending',
    )
    return [...asked, chip(text, keep.where.length > 0 ? { where: keep.where } : undefined)]
  }

  function headMenu(head: HeadLine): MenuEntry[] {
    return [
      { text: texts.openSiblings, act: () => void siblings(head, true) },
      { text: texts.closeSiblings, act: () => void siblings(head, false) },
      { text: texts.openLevel, act: () => model.openLevels(head.level + 1) },
      { text: texts.closeLevel, act: () => model.openLevels(head.level) },
      { text: texts.openAll, act: () => model.openLevels(null) },
      { text: texts.closeAll, act: () => model.openLevels(0) },
    ]
  }

  /** Several columns under one heading are moved, and no levels. */
  const canTake = (column: string): boolean =>
    model.canGroup(column) && kernel.headingDrag.columns.length === 1

  const handle: GroupsHandle = { goToGroup }
  function headingMenu(column: string): MenuEntry[] {
    const at = levels().findIndex(level => level.column === column)
    if (at >= 0) return [{ text: texts.notGroupByThis, act: () => remove(at) }]
    if (!model.canGroup(column)) return []
    const text = levels().length > 0 ? texts.groupByAlso : texts.groupByThis
    return [{ text, act: () => void groupBy(column).catch(kernel.failed) }]
  }

  return {
    name: 'groups',
    handle,
    headingMenu,
    refresh: () => trail.show(levels()),
    viewed: () => void card.made?.load(),
    arranged(_, change) {
      if (!change.groups) return
      const said = change.groups.map(level => levelName(level, model, texts))
      announcer.say(said.length > 0 ? texts.groupedByNow(said.join(texts.thenBy)) : texts.notGrouped)
    },
    key({ key, ctrlKey, metaKey, shiftKey }, { line }) {
      if (line < 0 || levels().length === 0) return false
      const all = ctrlKey || metaKey
      if (all && (key === 'ArrowDown' || key === 'ArrowUp')) {
        const to = neighbour(line, key === 'ArrowDown' ? 1 : -1)
        if (to >= 0) navigator.go(to, navigator.column)
        return true
      }
      const head = headAt(line)
      if (!head) return false
      if (key === 'Enter' || (key === ' ' && !shiftKey && !all)) return toggle(line)
      if (key === '*') {
        void siblings(head, true)
        return true
      }
      if ((key !== 'ArrowRight' && key !== 'ArrowLeft') || all || shiftKey) return false
      const opens = (key === 'ArrowRight') !== screen.viewport.rtl
      if (!toggle(line, opens)) {
        // On into the group, or out to the one around it.
        const around = kernel.lines.groupsAt?.(line)?.at(-2)
        if (opens) navigator.go(asPageLine(line + 1), navigator.column)
        else if (around) navigator.go(asPageLine(around.line), navigator.column)
      }
      return true
    },
    click(event, { line }) {
      const target = elementOf(event.target)
      if (target?.closest('.box')) return false
      const stuck = target && screen.body.stuckAt(target)
      if (!stuck) return toggle(line)
      showHead(stuck)
      if (target?.closest('i')) toggle(asPageLine(stuck.line))
      return true
    },
    headMenu,
    cardPart(column) {
      if (!model.canGroup(column)) return null
      const part = make('div', 'order group-by')
      const at = levels().findIndex(level => level.column === column)
      const button = make('button', 'button', part)
      button.type = 'button'
      button.dataset.control = 'group'
      button.ariaPressed = String(at >= 0)
      button.textContent =
        at >= 0 ? texts.notGroupByThis : levels().length > 0 ? texts.groupByAlso : texts.groupByThis
      button.onclick = () => (at >= 0 ? remove(at) : void groupBy(column))
      return part
    },
    headingDragged: column => trail.receive(column !== null && canTake(column)),
    headingOver(column, at) {
      const place = canTake(column) ? trail.placeAt(at, screen.viewport.rtl) : null
      trail.mark(place)
      return place !== null
    },
    headingDropped(column, at) {
      const place = canTake(column) ? trail.placeAt(at, screen.viewport.rtl) : null
      if (place !== null) void groupBy(column, place)
      else {
        // A step that is let go elsewhere is taken out.
        const nth = levels().findIndex(level => level.column === column)
        if (nth >= 0 && kernel.headingDrag.fromTrail) remove(nth)
      }
      return place !== null
    },
    chips: () => levels().flatMap((level, nth) => keptChips(level, nth)),
    get lifted() {
      return { groups: levels().map(level => ({ ...level, keep: undefined })) }
    },
  }
}

/** Groups beside one another that are opened or closed at once. */
const MOST_SIBLINGS = 5_000

/** The least size that a group is asked for, where it is asked for that alone; null: it is not. */
function leastSize({ of, condition }: Keep['where'][number]): number | null {
  const [part, ...others] = condition.parts
  const isLeast = of === 'size' && others.length === 0 && part.kind === 'at-least'
  return isLeast && typeof part.value === 'number' ? part.value : null
}
