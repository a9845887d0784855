import { shallowRef } from 'vue'
import type { AskedOfService } from '@vast-meadow/engine/odata'

/** Questions that are remembered; older ones are forgotten. */
const MOST = 40

/** What the open grid asked its service, the newest first. */
export const askedOfService = shallowRef<readonly AskedOfService[]>([])

export const heardFromService = (asked: AskedOfService): void => {
  askedOfService.value = [asked, ...askedOfService.value.slice(0, MOST - 1)]
}
