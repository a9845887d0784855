import type { Placement } from '@vast-meadow/engine'
import { mountMeadow } from './mount.ts'
import type { MeadowHandle } from './grid.ts'
import type { MeadowOptions } from './kernel/options.ts'
import { EVENT_NAMES, type MeadowEvents } from './kernel/events.ts'

/**
 * `<vast-meadow>`: set `options` (or one property after the other before it is in the page), and it mounts when it is
 * connected and unmounts when it is taken out. Events are named `meadow-` and the grid's own name.
 */
export class VastMeadowElement extends HTMLElement {
  /** Where engines of elements run when their options do not say. */
  static placement: Placement = {}
  private given: MeadowOptions = {}
  private mounted: MeadowHandle | null = null
  private leaving = false
  private answersWhy = false

  get options(): MeadowOptions {
    return this.given
  }

  set options(options: MeadowOptions) {
    this.given = options
    if (this.isConnected) this.mount()
  }

  set definition(definition: MeadowOptions['definition']) {
    this.given = { ...this.given, definition }
    if (this.mounted && definition) void this.mounted.setDefinition(definition)
  }

  set rows(rows: MeadowOptions['rows']) {
    this.given = { ...this.given, rows }
    if (this.mounted && rows) void this.mounted.setRows(rows).catch(() => {})
    else if (this.isConnected) this.mount()
  }

  set source(source: MeadowOptions['source']) {
    this.given = { ...this.given, source }
    if (this.mounted && source) void this.mounted.setRows(source).catch(() => {})
    else if (this.isConnected) this.mount()
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
    if (!this.mounted) this.mount()
  }

  disconnectedCallback(): void {
    // A move within the page disconnects and connects at once; only a real leaving unmounts.
    this.leaving = true
    queueMicrotask(() => {
      if (!this.leaving) return
      this.mounted?.unmount()
      this.mounted = null
    })
  }

  private mount(): void {
    this.mounted?.unmount()
    this.mounted = mountMeadow(this, { placement: VastMeadowElement.placement, ...this.given })
    // The grid offers to ask why only where somebody answers.
    for (const name of EVENT_NAMES) if (name !== 'why' || this.answersWhy) this.tell(name)
  }

  private tell(name: keyof MeadowEvents): void {
    this.mounted?.on(name, detail => this.dispatchEvent(new CustomEvent(`meadow-${name}`, { detail })))
  }
}

if (!customElements.get('vast-meadow')) customElements.define('vast-meadow', VastMeadowElement)
