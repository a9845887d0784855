import { words } from '~/words'
import type { ActionDone, BatchAction, CellAction } from '@vast-meadow/grid'
import type { Definition } from '@vast-meadow/engine'

/** A part for whatever name it is asked by. */
export const byAnyName = <Part>(partOf: (name: string) => Part): Readonly<Record<string, Part>> =>
  new Proxy({}, { get: (_, name) => (typeof name === 'string' ? partOf(name) : undefined) })

/** Whether an action of a name takes rows out. */
function deletes(definition: Definition | undefined, name: string): boolean {
  const ofRows =
    definition?.columns.flatMap(({ cell }) => (cell.kind === 'actions' ? cell.actions : [])) ?? []
  return [...ofRows, ...(definition?.actions ?? [])].some(action => action.name === name && action.deletes)
}

/**
 * Plays the page that a grid will stand in: tells which part of the page will do what was asked for. Of rows that are
 * taken out the grid does its own part, and the page's can be undone.
 */
export function triedActions(definition: () => Definition | undefined): {
  readonly actions: Readonly<Record<string, CellAction>>
  readonly batch: Readonly<Record<string, BatchAction>>
} {
  const answer = (kind: 'actions' | 'batch', name: string): ActionDone =>
    deletes(definition(), name)
      ? { undo() {} }
      : { text: words.tryActions.yourPageDoesIt(`parts.${kind}.${name}`) }
  return {
    actions: byAnyName(name => () => answer('actions', name)),
    batch: byAnyName(name => () => answer('batch', name)),
  }
}
