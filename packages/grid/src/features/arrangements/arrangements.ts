import { arrangementFromLink, arrangementToLink, differences } from '@vast-meadow/engine/client'
import type { Arrangement, LinkResult } from '@vast-meadow/engine'
import { speakerOf } from '../../kernel/arrangement-speaker.ts'
import { make } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { ArrangementError, saidError } from '../../kernel/problem.ts'
import { addressWith, arrangementInAddress } from './address-link.ts'
import type { ArrangementsHandle } from './arrangements-handle.ts'
import type { ArrangementsMenuHost } from './arrangements-menu.ts'
import { ArrangementKeeper, type Names } from './keeper.ts'
import { MOST_NAME, MOST_NAMED } from './read-kept.ts'

/** What a reader arranged is there again the next time, by name where that is wanted, and for others by a link. */
export function arrangements(kernel: Kernel): Feature {
  const { model, texts, bar, options, disposal, root } = kernel
  const speaker = speakerOf(model, texts, options.parts)
  const told = new Set<string>()
  const menu = kernel.whenUsed.add(
    () => import('./arrangements-menu.ts'),
    ({ ArrangementsMenu }) => new ArrangementsMenu(bar.element, button, texts, menuHost, disposal),
    () => !button.hidden,
  )
  /** A store that fails does so with every change: each failure is told once. */
  const tellOnce = (code: string, message: string): void => {
    if (told.has(message)) return
    told.add(message)
    kernel.tell({ code, message })
  }
  const keeper =
    options.storage &&
    new ArrangementKeeper(options.storage, {
      now: () => model.toKeep,
      notRead: error => tellOnce('not-kept', texts.keptNotRead(saidError(error, texts))),
      notValid: problems => kernel.failed(new ArrangementError(problems)),
      notKept: error => tellOnce('not-kept', texts.notKept(saidError(error, texts))),
      named: () => menu.made?.update(),
    })

  const handle: ArrangementsHandle = {
    get differences() {
      if (!model.definition) return []
      return differences(model.start, model.arrangement).map(one => ({
        text: texts.difference(one, speaker),
        putBack: () => void model.apply(one.back(model.arrangement), 'reader'),
      }))
    },
    get arrangementNames() {
      return keeper?.names.named.map(({ name }) => name) ?? []
    },
    get firstArrangement() {
      return keeper?.names.first ?? null
    },
    backToStart: () => void model.apply({ ...model.start, page: 0 }, 'reader'),
    saveArrangement(name) {
      const called = name.trim().slice(0, MOST_NAME)
      if (called === '')
        return Promise.reject(new RangeError('An arrangement is kept by a name; this one is empty.'))
      const others = handle.arrangementNames.filter(one => one !== called)
      if (others.length >= MOST_NAMED) return Promise.reject(new RangeError(texts.tooManyNames(MOST_NAMED)))
      const mine = { name: called, arrangement: model.toKeep }
      return change(({ named, first }) => ({
        named: [...named.filter(one => one.name !== called), mine],
        first,
      }))
    },
    takeArrangement(name) {
      const kept = keeper?.names.named.find(one => one.name === name)
      if (!kept) throw new RangeError(`There is no arrangement "${name}".`)
      const leftOut = model.takeKept(kept.arrangement)
      kernel.tellOfLeftOut(leftOut)
      return leftOut
    },
    async renameArrangement(name, to) {
      const called = to.trim().slice(0, MOST_NAME)
      if (called === '' || called === name) return
      if (handle.arrangementNames.includes(called)) throw new RangeError(texts.nameTaken(called))
      await change(({ named, first }) => {
        // Another tab may have come first.
        if (named.some(one => one.name === called)) return { named, first }
        return {
          named: named.map(one => (one.name === name ? { ...one, name: called } : one)),
          first: first === name ? called : first,
        }
      })
    },
    forgetArrangement: name =>
      change(({ named, first }) => ({
        named: named.filter(one => one.name !== name),
        first: first === name ? null : first,
      })),
    beginWith: name => change(({ named }) => ({ named, first: name })),
    arrangementLink: () => arrangementToLink(model.arrangement, model.start),
    arrangeByLink: async link => takeLink(await arrangementFromLink(link)),
  }

  function change(names: (names: Names) => Names): Promise<void> {
    return keeper
      ? keeper.rename(names)
      : Promise.reject(new Error('Arrangements are kept where `options.storage` says; there is none.'))
  }

  function takeLink(read: LinkResult): boolean {
    if (!read.ok) {
      const { code } = read.problem
      kernel.tell({ code, message: texts.linkProblem(read.problem) })
      return false
    }
    // All else is as the grid starts: that is what whoever made the link saw.
    kernel.tellOfLeftOut(model.takeKept({ ...model.start, ...read.arrangement }))
    return true
  }

  const button = make('button', 'button')
  button.type = 'button'
  button.textContent = texts.arrangement
  button.ariaExpanded = 'false'
  button.hidden = true
  bar.addAtEnd(button)
  const { link } = options
  const menuHost: ArrangementsMenuHost = {
    handle,
    keeps: keeper !== undefined,
    address: link === undefined ? null : () => addressWith(link, location, model.arrangement, model.start),
    failed: kernel.failed,
  }
  disposal.listen(button, 'click', () => menu.use(one => one.toggle()))

  const view = root.ownerDocument.defaultView ?? window
  const { location } = view
  if (link !== undefined) {
    const hashed = (): void => {
      void arrangementInAddress(link, location).then(read => read && takeLink(read), kernel.failed)
    }
    view.addEventListener('hashchange', hashed)
    disposal.add(() => view.removeEventListener('hashchange', hashed))
  }
  if (keeper) {
    // Who leaves the page, or takes the grid out of it, has arranged what he arranged.
    const leave = (): void => keeper.atOnce()
    view.addEventListener('pagehide', leave)
    disposal.add(() => {
      view.removeEventListener('pagehide', leave)
      leave()
    })
  }

  /** An address that holds an arrangement says more than what was left here. */
  async function begins(): Promise<Partial<Arrangement> | null> {
    const [kept, read] = await Promise.all([
      keeper?.begin() ?? null,
      link === undefined ? null : arrangementInAddress(link, location),
    ])
    if (read?.ok) return read.arrangement
    if (read) kernel.tell({ code: read.problem.code, message: texts.linkProblem(read.problem) })
    return kept
  }

  return {
    name: 'arrangements',
    handle,
    begins,
    refresh: () => menu.made?.update(),
    defined: ({ arrangements: wanted }) => void (button.hidden = !wanted),
    arranged(_arrangement, _change, { why }) {
      // A link or a code's arrangement is what the reader has from then on, too.
      if (why !== 'builder') keeper?.later()
    },
  }
}
