import { shallowRef } from 'vue'
import type { AskedOfService } from '@vast-meadow/engine/odata'

/** Questions that are remembered; older ones are forgotten. */
const MOST = 40

/** What the open grid asked its service. */
export interface Asked {
  /** The newest first, no more than are remembered. */
  readonly last: readonly AskedOfService[]
  readonly questions: number
  readonly bytes: number
}

const NOTHING: Asked = { last: [], questions: 0, bytes: 0 }

export const askedOfService = shallowRef<Asked>(NOTHING)

export const heardFromService = (one: AskedOfService): void => {
  const { last, questions, bytes } = askedOfService.value
  askedOfService.value = {
    last: [one, ...last.slice(0, MOST - 1)],
    questions: questions + 1,
    bytes: bytes + one.bytes,
  }
}

/** Another grid is opened. */
export const forgetAsked = (): void => {
  askedOfService.value = NOTHING
}
