import { sentences } from '~/words'
import { isAble, type Ability, type PerKind } from '@vast-meadow/engine'

/** Why a source cannot do something, in a sentence; null: it can, or nothing is known yet. */
export function whyNot(can: Ability | PerKind<string> | undefined): string | null {
  if (can === undefined || can === true) return null
  if ('code' in can) return sentences.refusal(can)
  return isAble(can) || can.others === true ? null : sentences.refusal(can.others)
}
