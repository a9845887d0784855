import { words } from '~/words'
import { renameColumn, type Arrangement, type ArrangementChange, type Definition } from '@vast-meadow/engine'
import { changedFields } from '~/binding/field-changes'
import type { Remembering } from './remembering'
import type { RowsOfGrid } from './rows'
import type { Saving } from './saving'
import type { OpenGridState } from './state'

/** What the builder changes of the definition and the start, and takes back. */
export function buildingOf(
  state: OpenGridState,
  { saveLater }: Saving,
  { inTurn, quietly, note, stepBy }: Remembering,
  { readAgain }: RowsOfGrid,
) {
  const {
    definitionsWaiting,
    handle,
    definition,
    arrangement,
    built,
    fieldChanges,
    mode,
    column,
    panel,
    optionsNow,
    now,
  } = state

  /** Opens the settings of a column. */
  function openColumn(key: string): void {
    if (mode.value === 'use') return
    column.value = key
    panel.value = 'columns'
  }

  const change = (changed: ArrangementChange): void => void handle.value?.arrange(changed, 'builder')

  /** Another definition; `name`: what was done, for undo. */
  async function define(name: string, wanted: Definition, wantedArrangement?: Arrangement): Promise<void> {
    // What is asked for next is asked of this one, though it has not taken effect yet.
    definition.value = wanted
    definitionsWaiting.value++
    try {
      await inTurn(() => defineOne(name, wanted, wantedArrangement))
    } finally {
      definitionsWaiting.value--
      if (definitionsWaiting.value === 0) definition.value = handle.value?.definition ?? definition.value
    }
  }

  async function defineOne(name: string, wanted: Definition, wantedArrangement?: Arrangement): Promise<void> {
    const mounted = handle.value
    if (!mounted) return
    await quietly(async () => {
      await mounted.setDefinition(wanted)
      if (wantedArrangement) mounted.arrange(wantedArrangement, 'builder')
      arrangement.value = built.value = mounted.arrangement
    })
    note(name)
    saveLater()
  }

  const walk = (by: 1 | -1): Promise<void> => inTurn(() => walkOne(by))

  async function walkOne(by: 1 | -1): Promise<void> {
    const mounted = handle.value
    const bound = mounted && stepBy(by)
    if (!bound) return
    const { definition: wanted, arrangement: wantedArrangement, options } = bound
    await quietly(async () => {
      if (JSON.stringify(options) !== JSON.stringify(optionsNow())) await readAgain(options, wanted)
      else if (wanted !== definition.value) await mounted.setDefinition(wanted)
      mounted.arrange(wantedArrangement, 'restore')
      definition.value = mounted.definition
      arrangement.value = built.value = mounted.arrangement
    })
    saveLater()
  }

  /** A column shows another field, and what was said of it goes along. */
  async function rename(from: string, to: string): Promise<void> {
    const next = renameColumn(now.value.definition, now.value.arrangement, from, to)
    await define(words.building.columnsField, next.definition, next.arrangement)
    fieldChanges.value =
      fieldChanges.value && changedFields(now.value.definition, now.value.description.fields)
  }

  /** A search that readers start with; empty: none. What is typed in Build is only tried. */
  const startSearch = (search: string): Promise<void> =>
    define(words.building.searchAtTheStart, {
      ...now.value.definition,
      start: { ...now.value.definition.start, search: search.trim() || undefined },
    })

  return { openColumn, change, define, walk, rename, startSearch }
}

export type Building = ReturnType<typeof buildingOf>
