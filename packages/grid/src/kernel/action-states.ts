import type { RowId } from '@vast-meadow/engine'

/** How it stands with an action on a row: under way, or failed with a reason. */
export type ActionState = 'busy' | { readonly failed: string }

/** Actions on rows that are under way or failed, whether their rows are drawn or not. */
export class ActionStates {
  private readonly states = new Map<string, ActionState>()

  of(row: RowId, column: string, action: string): ActionState | null {
    return this.states.size === 0 ? null : (this.states.get(nameOf(row, column, action)) ?? null)
  }

  /** null: nothing is to be told of it any more. */
  set(row: RowId, column: string, action: string, state: ActionState | null): void {
    if (state) this.states.set(nameOf(row, column, action), state)
    else this.states.delete(nameOf(row, column, action))
  }

  clear(): void {
    this.states.clear()
  }
}

const nameOf = (row: RowId, column: string, action: string): string => JSON.stringify([row, column, action])
