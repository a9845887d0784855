import type { Placement } from '@vast-meadow/engine'
import { elementPlacement } from './element-placement.ts'
import { followOptions } from './follow-options.ts'
import { mountMeadow } from './mount.ts'
import type { MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'
import { EVENT_NAMES, type MeadowEvents } from './kernel/events.ts'

/** Options that are properties of the element as well. */
const PROPERTIES = [
  'options',
  'definition',
  'rows',
  'source',
  'arrangement',
  'parts',
  'texts',
  'locale',
  'placement',
  'storage',
  'unsaved',
  'allow',
  'link',
  'place',
  'clock',
] as const

/**
 * `<vast-meadow>`: options are set as a whole (`options`) or one by one, before it is in the page or later; it mounts when
 * it is connected and unmounts when it is taken out. The attribute `src` is the address of a file of rows. Events are
 * named `meadow-` and the grid's own name.
 */
export class VastMeadowElement extends HTMLElement {
  static readonly observedAttributes = ['src']
  /** Where engines of elements run when their options do not say. */
  static get placement(): Placement {
    return elementPlacement.usual
  }

  static set placement(placement: Placement) {
    elementPlacement.usual = placement
  }

  private given: MeadowOptions = {}
  private mounted: MeadowHandle | null = null
  private leaving = false
  private answersWhy = false
  private fetching: AbortController | null = null

  get options(): MeadowOptions {
    return this.given
  }

  set options(options: MeadowOptions) {
    this.take(options)
  }

  set definition(definition: MeadowOptions['definition']) {
    this.take({ ...this.given, definition })
  }

  set rows(rows: MeadowOptions['rows']) {
    this.take({ ...this.given, rows })
  }

  set source(source: MeadowOptions['source']) {
    this.take({ ...this.given, source })
  }

  set arrangement(arrangement: MeadowOptions['arrangement']) {
    this.take({ ...this.given, arrangement })
  }

  set parts(parts: MeadowOptions['parts']) {
    this.take({ ...this.given, parts })
  }

  set texts(texts: MeadowOptions['texts']) {
    this.take({ ...this.given, texts })
  }

  set locale(locale: MeadowOptions['locale']) {
    this.take({ ...this.given, locale })
  }

  set placement(placement: MeadowOptions['placement']) {
    this.take({ ...this.given, placement })
  }

  set storage(storage: MeadowOptions['storage']) {
    this.take({ ...this.given, storage })
  }

  set unsaved(unsaved: MeadowOptions['unsaved']) {
    this.take({ ...this.given, unsaved })
  }

  set allow(allow: MeadowOptions['allow']) {
    this.take({ ...this.given, allow })
  }

  set link(link: MeadowOptions['link']) {
    this.take({ ...this.given, link })
  }

  set place(place: MeadowOptions['place']) {
    this.take({ ...this.given, place })
  }

  set clock(clock: MeadowOptions['clock']) {
    this.take({ ...this.given, clock })
  }

  /** The mounted grid; null while the element is not in a page. */
  get handle(): MeadowHandle | null {
    return this.mounted
  }

  override addEventListener(...args: Parameters<HTMLElement['addEventListener']>): void {
    super.addEventListener(...args)
    if (args[0] !== 'meadow-why' || this.answersWhy) return
    this.answersWhy = true
    this.tell('why')
  }

  connectedCallback(): void {
    this.leaving = false
    this.takeEarly()
    if (!this.mounted) this.mount()
  }

  disconnectedCallback(): void {
    // A move within the page disconnects and connects at once; only a real leaving unmounts.
    this.leaving = true
    queueMicrotask(() => {
      if (!this.leaving) return
      this.mounted?.unmount()
      this.mounted = null
      // The element is the grid's own; there is nothing of a host's to show in its place.
      this.shadowRoot?.replaceChildren()
    })
  }

  /** Style sheets do not go along into another document. */
  adoptedCallback(): void {
    if (this.mounted) this.mountAnew()
  }

  attributeChangedCallback(_: 'src', before: string | null, now: string | null): void {
    if (before !== now && now !== null) void this.fetchRows(now)
  }

  /** Options that were set before the browser knew the element hide those of its class. */
  private takeEarly(): void {
    for (const name of PROPERTIES) {
      const early = Object.getOwnPropertyDescriptor(this, name)
      if (!early || !('value' in early)) continue
      Reflect.deleteProperty(this, name)
      Reflect.set(this, name, early.value)
    }
  }

  private async fetchRows(address: string): Promise<void> {
    this.fetching?.abort()
    const mine = (this.fetching = new AbortController())
    try {
      const answer = await fetch(new URL(address, this.ownerDocument.baseURI), { signal: mine.signal })
      if (!answer.ok) throw new Error(`${address} answered ${answer.status} ${answer.statusText}`)
      this.source = { kind: 'file', blob: await answer.blob() }
    } catch (error) {
      if (mine.signal.aborted) return
      const message = error instanceof Error ? error.message : String(error)
      this.dispatchEvent(new CustomEvent('meadow-problem', { detail: { code: 'failed', message } }))
    }
  }

  private take(options: MeadowOptions): void {
    const before = this.given
    this.given = options
    if (!this.mounted) {
      if (this.isConnected) this.mount()
    } else if (!followOptions(this.mounted, before, options)) this.mountAnew()
  }

  private mountAnew(): void {
    const arrangement = this.mounted?.definition ? this.mounted.arrangement : this.given.arrangement
    this.mount({ ...this.given, arrangement })
  }

  private mount(options = this.given): void {
    this.mounted?.unmount()
    this.mounted = mountMeadow(this, { placement: VastMeadowElement.placement, ...options })
    // The grid offers to ask why only where somebody answers.
    for (const name of EVENT_NAMES) if (name !== 'why' || this.answersWhy) this.tell(name)
  }

  private tell(name: keyof MeadowEvents): void {
    this.mounted?.on(name, detail => this.dispatchEvent(new CustomEvent(`meadow-${name}`, { detail })))
  }
}

if (!customElements.get('vast-meadow')) customElements.define('vast-meadow', VastMeadowElement)

/** What can be set on the element, as properties or, in templates of frameworks, as attributes. */
export type MeadowElementOptions = MeadowOptions & { readonly options?: MeadowOptions; readonly src?: string }

/** The grid’s events as the element tells them. */
export type MeadowElementEvents = {
  [Name in keyof MeadowEvents as `meadow-${Name}`]: CustomEvent<MeadowEvents[Name]>
}

declare global {
  // What an interface inherits is how a map of the platform is added to.
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type
  interface HTMLElementEventMap extends MeadowElementEvents {}
  interface HTMLElementTagNameMap {
    'vast-meadow': VastMeadowElement
  }
}
