import type { FlowReport } from '@vast-meadow/engine'
import { make } from './dom.ts'
import type { Texts } from './texts.ts'
import type { GridModel } from './grid-model.ts'

/** Says aloud, to those who hear the page, what others see. */
export class Announcer {
  private readonly live: HTMLElement
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly format: (count: number) => string

  constructor(parent: HTMLElement, model: GridModel, texts: Texts, format: (count: number) => string) {
    this.live = make('div', 'quiet', parent)
    this.live.setAttribute('role', 'status')
    this.live.ariaLive = 'polite'
    this.model = model
    this.texts = texts
    this.format = format
  }

  say(text: string): void {
    this.live.textContent = text
  }

  passing({ passing, total }: FlowReport): void {
    const { search, conditions, where } = this.model.arrangement
    if (!search && !where && Object.keys(conditions).length === 0) return
    this.say(this.texts.passingRows(this.format(passing), this.format(total)))
  }
}
