import type { Disposal } from './dom.ts'

/** A part of the grid that no page needs before somebody uses it: its code comes then, and it is made then. */
export interface WhenUsed<Made> {
  /** What was made; null: nobody has used it yet. */
  readonly made: Made | null
  /** Does something with it: at once where its code is there, else as soon as it came. */
  use(act: (made: Made) => void): void
}

export interface WhenUsedHost {
  /** When there is time for what may be used later: rows come first. */
  rest(): Promise<void>
  /** Loads the looks of what opens, and puts them on. */
  dress(): Promise<void>
  /** The code did not come: the line is down, or the page's files are others by now. `again` tries it once more. */
  failed(error: unknown, again: () => void): void
}

/** By what a reader comes near. */
const NEAR = ['pointerover', 'pointerdown', 'focusin', 'keydown'] as const

/**
 * The parts that come when they are used. Their code is begun when the pointer, the finger or the keyboard first comes to
 * the grid: what a click opens stands at once then, and a page that is only read never loads any of it.
 */
export class PartsWhenUsed {
  private readonly begins: (() => void)[] = []
  private readonly host: WhenUsedHost
  private isNear = false
  private closed = false

  constructor(near: HTMLElement, host: WhenUsedHost, disposal: Disposal) {
    this.host = host
    const begin = (): void => {
      forget()
      this.isNear = true
      for (const one of this.begins) one()
    }
    const forget = (): void => {
      for (const name of NEAR) near.removeEventListener(name, begin)
    }
    for (const name of NEAR) near.addEventListener(name, begin)
    disposal.add(() => {
      this.closed = true
      forget()
    })
  }

  /** `from` loads its code, `make` makes it, once; `wanted`: whether it can be used as things are, default: yes. */
  add<Module, Made>(
    from: () => Promise<Module>,
    make: (module: Module) => Made,
    wanted: () => boolean = () => true,
  ): WhenUsed<Made> {
    let module: Module | null = null
    let loading: Promise<Module> | null = null
    let made: Made | null = null
    const load = (): Promise<Module> =>
      (loading ??= Promise.all([from(), this.host.dress()]).then(
        ([loaded]) => (module = loaded),
        (error: unknown) => {
          loading = null
          throw error
        },
      ))
    const use = (act: (made: Made) => void): void => {
      const done = (loaded: Module): void => {
        if (!this.closed) act((made ??= make(loaded)))
      }
      if (module) done(module)
      else
        load().then(done, (error: unknown) => {
          if (!this.closed) this.host.failed(error, () => use(act))
        })
    }
    // Whether it comes is told when it is used.
    const begin = (): void => {
      const loadSoon = (): unknown => !this.closed && wanted() && load().catch(() => {})
      this.host.rest().then(loadSoon, loadSoon)
    }
    this.begins.push(begin)
    if (this.isNear) begin()
    return {
      get made() {
        return made
      },
      use,
    }
  }
}
