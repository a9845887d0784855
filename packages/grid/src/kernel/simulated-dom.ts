// Hosts test their pages in a simulated DOM, which has no layout and lacks some of a browser's interfaces. The grid renders its
// window there all the same; where there is a browser, each of these is just its own.

const lacking = globalThis as Partial<typeof globalThis>
type Lacking<Of, Names extends keyof Of> = Omit<Of, Names> & Partial<Pick<Of, Names>>

/** By document: whether it lays anything out. */
const laidOut = new WeakMap<Document, boolean>()

/** Whether a document gives elements a size at all; one that nothing is seen of does not count as having none. */
export function hasLayout(document: Document): boolean {
  const known = laidOut.get(document)
  if (known !== undefined) return known
  const { defaultView: view, documentElement: root } = document
  if (!view || view.innerWidth === 0 || view.getComputedStyle(root).display === 'none') return true
  const probe = document.createElement('div')
  probe.style.cssText = 'position: fixed; inline-size: 8px; block-size: 8px; visibility: hidden'
  root.append(probe)
  const has = probe.offsetWidth > 0
  probe.remove()
  laidOut.set(document, has)
  return has
}

/** Follows a media query; where there are none, nothing matches. */
export const mediaQuery = (query: string): MediaQueryList => lacking.matchMedia?.(query) ?? new NoMedia(query)

class NoMedia extends EventTarget implements MediaQueryList {
  readonly matches = false
  readonly media: string
  onchange = null

  constructor(media: string) {
    super()
    this.media = media
  }

  addListener(): void {
    // Nothing ever changes.
  }

  removeListener(): void {
    // Nothing was added.
  }
}

/** Follows sizes; where nothing has one, nothing is ever told. */
export const sizeObserver = (told: ResizeObserverCallback): ResizeObserver =>
  lacking.ResizeObserver ? new ResizeObserver(told) : NOTHING_OBSERVED

const NOTHING_OBSERVED: ResizeObserver = {
  observe() {
    // There is nothing to be seen.
  },
  unobserve() {
    // As little.
  },
  disconnect() {
    // As little.
  },
}

/** Whether an element can be seen, as far as the DOM can tell. */
export const isVisible = (element: Lacking<Element, 'checkVisibility'>): boolean =>
  element.checkVisibility?.({ visibilityProperty: true }) ?? element.closest('[hidden]') === null

/** Puts an element over all others, and takes it back; without such a layer it stands where it is. */
export function showOver(element: Lacking<HTMLElement, 'showPopover'>): void {
  element.showPopover?.()
}
export function hideOver(element: Lacking<HTMLElement, 'hidePopover'>): void {
  if (element.hidePopover && element.matches(':popover-open')) element.hidePopover()
}

/** Fills a style sheet; where that cannot be done at once, nobody would see it either. */
export function fillSheet(sheet: Lacking<CSSStyleSheet, 'replaceSync'>, text: string): void {
  sheet.replaceSync?.(text)
}

/** Shows a change for a moment in place of one that is still shown. */
export function flash(element: Lacking<Element, 'animate'>, frames: Keyframe[], ms: number): void {
  if (!element.animate) return
  for (const running of element.getAnimations()) running.cancel()
  element.animate(frames, ms)
}

/** Attributes of ARIA that elements have as properties, as the standard has it. */
const REFLECTED = [
  'AutoComplete Busy Checked ColCount ColIndex Description Expanded HasPopup Hidden Invalid KeyShortcuts',
  'Label Level Live MultiSelectable PosInSet Pressed RowCount RowIndex Selected SetSize Sort',
]
  .join(' ')
  .split(' ')

/** Gives elements those properties where they have none, so that their attributes can be found. */
export function reflectAria(prototype: Element = Element.prototype): void {
  if ('ariaLabel' in prototype) return
  for (const name of REFLECTED) {
    const attribute = `aria-${name.toLowerCase()}`
    Object.defineProperty(prototype, `aria${name}`, {
      configurable: true,
      get(this: Element) {
        return this.getAttribute(attribute)
      },
      set(this: Element, value: string | null) {
        if (value === null) this.removeAttribute(attribute)
        else this.setAttribute(attribute, value)
      },
    })
  }
}
