import { words } from '~/words/english'
import type { BatchAction, CellAction } from '@vast-meadow/grid'

/** A part for whatever name it is asked by. */
export const byAnyName = <Part>(partOf: (name: string) => Part): Readonly<Record<string, Part>> =>
  new Proxy({}, { get: (_, name) => (typeof name === 'string' ? partOf(name) : undefined) })

/** Plays the page that a grid will stand in: tells which part of the page will do what was asked for. */
export const triedActions: {
  readonly actions: Readonly<Record<string, CellAction>>
  readonly batch: Readonly<Record<string, BatchAction>>
} = {
  actions: byAnyName(name => () => ({ text: words.tryActions.yourPageDoesIt(`parts.actions.${name}`) })),
  batch: byAnyName(name => () => ({ text: words.tryActions.yourPageDoesIt(`parts.batch.${name}`) })),
}
