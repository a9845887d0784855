import type { View } from '@vast-meadow/engine'
import { make } from './dom.ts'
import type { Texts } from './texts.ts'
import type { GridModel } from './grid-model.ts'

/** What is said beside other things stays with them so long. */
const BESIDE_MS = 1500

/** Says aloud, to those who hear the page, what others see. */
export class Announcer {
  private readonly live: HTMLElement
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly format: (count: number) => string
  private said = ''
  private beside = ''
  private timer = 0

  constructor(parent: HTMLElement, model: GridModel, texts: Texts, format: (count: number) => string) {
    this.live = make('div', 'quiet', parent)
    this.live.setAttribute('role', 'status')
    this.live.ariaLive = 'polite'
    this.model = model
    this.texts = texts
    this.format = format
  }

  say(text: string): void {
    this.said = text
    this.show()
  }

  /** Says something of the grid itself beside what is being told: neither takes the place of the other. */
  sayBeside(text: string): void {
    this.beside = text
    clearTimeout(this.timer)
    this.timer = window.setTimeout(() => {
      this.beside = ''
      this.said = ''
    }, BESIDE_MS)
    this.show()
  }

  dispose(): void {
    clearTimeout(this.timer)
  }

  private show(): void {
    this.live.textContent = [this.said, this.beside].filter(Boolean).join(' ')
  }

  passing({ counts, report: { passing, total } }: Pick<View, 'counts' | 'report'>): void {
    const { search, conditions, where } = this.model.arrangement
    if (!search && !where && Object.keys(conditions).length === 0) return
    const { texts, format } = this
    const known = counts.passing.kind === 'exact' ? format(passing) : texts.atLeast(format(passing), passing)
    this.say(texts.passingRows(known, format(total), total))
  }
}
