import type {
  Arrangement,
  Definition,
  FlowReport,
  Progress,
  ReadOptions,
  SourceDescription,
  SourceInput,
} from '@vast-meadow/engine'
import type { MeadowHandle, Measures } from '@vast-meadow/grid'
import type { FieldChanges } from '~/binding/field-changes'
import { forgetAsked } from '~/service/asked'
import type { History } from '~/history/history'
import { differsFromStart, shipped } from '~/start/start-of'
import type { SavedGrid } from '~/storage/saved-grid'

export type PanelName =
  | 'source'
  | 'columns'
  | 'search'
  | 'conditions'
  | 'order'
  | 'groups'
  | 'rows'
  | 'look'
  | 'ship'
  | 'findings'
  | 'trace'
  | 'scenes'
export type Mode = 'build' | 'use'

/** What undo and redo walk along. */
export interface Bound {
  readonly definition: Definition
  readonly arrangement: Arrangement
  readonly options: ReadOptions | undefined
}

/** What is known of the open grid: what is saved of it, what is arranged in Build and in Use, and what the live grid tells. */
export function openGridState() {
  const saved = shallowRef<SavedGrid | null>(null)
  const input = shallowRef<SourceInput | null>(null)
  const handle = shallowRef<MeadowHandle | null>(null)
  const definition = shallowRef<Definition | null>(null)
  const arrangement = shallowRef<Arrangement | null>(null)
  const description = shallowRef<SourceDescription | null>(null)
  /** Only the first rows are there: they can be looked at, and building begins when all are. */
  const coming = computed(() => description.value?.total.kind === 'at-least')
  /** A service has the rows, and is asked for them. */
  const isFar = computed(() => ['service', 'listing'].includes(saved.value?.origin.kind ?? ''))
  const report = shallowRef<FlowReport | null>(null)
  const measures = shallowRef<Measures | null>(null)
  const progress = shallowRef<Progress | null>(null)
  const fieldChanges = shallowRef<FieldChanges | null>(null)
  const history = shallowRef<History<Bound> | null>(null)
  const mode = ref<Mode>('build')
  const selected = ref(0)
  const problem = ref('')
  const needsFile = ref(false)
  const saving = ref<'saved' | 'saving' | 'not saved'>('saved')
  const saveProblem = ref('')
  const panel = ref<PanelName | null>('source')
  /** The column whose settings are open; null: the list of all. */
  const column = ref<string | null>(null)
  /** The key of the row that is traced, as it is typed; null: none yet. */
  const traced = ref<string | null>(null)
  /** What is open, for whoever is only there once it is; throws before. */
  const now = computed(() => {
    if (!definition.value || !arrangement.value || !description.value) throw new Error('No grid is open yet.')
    return { definition: definition.value, arrangement: arrangement.value, description: description.value }
  })
  /** What is arranged in Build: what readers start with, also while the grid is tried as a reader. */
  const built = shallowRef<Arrangement | null>(null)
  /** Definitions that were asked for and have not taken effect yet; `definition` is the last of them. */
  const definitionsWaiting = ref(0)
  /** What a reader has arranged in Use; null: nothing yet. */
  const readers = shallowRef<Arrangement | null>(null)
  /** The definition that readers are given, its start being what is arranged in Build. */
  const start = computed(() => definition.value && built.value && shipped(definition.value, built.value))
  const readerDiffers = computed(
    () => start.value !== null && readers.value !== null && differsFromStart(start.value, readers.value),
  )
  /** The fields that come with the rows, without those that are worked out. */
  const ownFields = computed(() => description.value?.fields.filter(field => !field.computed) ?? [])
  const titleOf = (key: string): string =>
    definition.value?.columns.find(column => column.key === key)?.title || key
  const optionsNow = (): ReadOptions | undefined => {
    const origin = saved.value?.origin
    return origin?.kind === 'file' ? origin.options : undefined
  }

  function clear(): void {
    forgetAsked()
    for (const held of [
      saved,
      input,
      handle,
      definition,
      arrangement,
      description,
      report,
      measures,
      progress,
      fieldChanges,
      history,
      built,
      readers,
    ]) {
      held.value = null
    }
    selected.value = 0
    column.value = null
    problem.value = ''
    mode.value = 'build'
  }

  return {
    now,
    saved,
    input,
    handle,
    definition,
    arrangement,
    description,
    coming,
    isFar,
    report,
    measures,
    progress,
    fieldChanges,
    history,
    mode,
    selected,
    problem,
    needsFile,
    saving,
    saveProblem,
    panel,
    column,
    traced,
    built,
    definitionsWaiting,
    readers,
    start,
    readerDiffers,
    ownFields,
    titleOf,
    optionsNow,
    clear,
  }
}

export type OpenGridState = ReturnType<typeof openGridState>
