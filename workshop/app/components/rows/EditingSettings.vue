<script setup lang="ts">
import { words } from '~/words'
import type { Editing } from '@vast-meadow/engine'
import { NEW_EDIT } from '~/columns/column-edits'
import { useOpenGrid } from '~/stores/open-grid'
import { ANSWERS, useTryingSaves } from '~/stores/trying-saves'

/** How rows are changed and saved, and how the service answers that they are tried with here. */
const grid = useOpenGrid()
const trying = useTryingSaves()
const text = words.editingSettings

const editing = computed(() => grid.definition?.editing)
const editable = computed(() => grid.definition?.columns.filter(({ edit }) => edit !== undefined).length ?? 0)
const keyed = computed(() => (grid.definition?.key.length ?? 0) > 0)

const set = (change: Partial<Editing>): void => {
  const { definition } = grid.now
  void grid.define(text.editing, { ...definition, editing: { ...definition.editing, ...change } })
}

/** Columns that show a field of their own; what is worked out cannot be changed. */
const own = computed(() =>
  (grid.definition?.columns ?? [])
    .filter(({ expression }) => expression === undefined)
    .map(({ key, title }) => ({ value: key, title: title || key })),
)
const chosen = computed(() =>
  (grid.definition?.columns ?? []).flatMap(({ key, edit }) => (edit ? [key] : [])),
)
function letChange(keys: readonly string[]): void {
  const { definition } = grid.now
  const columns = definition.columns.map(column => {
    const { edit, ...without } = column
    return keys.includes(column.key) ? { ...column, edit: edit ?? NEW_EDIT } : without
  })
  void grid.define(text.editing, { ...definition, columns })
}

const SAVES = (['many', 'row', 'cell'] as const).map(value => ({ value, title: text.saves[value] }))
const PLACES = [
  { value: '', title: text.noNewRows },
  { value: 'head', title: text.atTheHead },
  { value: 'foot', title: text.atTheFoot },
  { value: 'group', title: text.inTheGroup },
] as const
/** What the service that holds the rows saves by itself; null: a stand-in answers. */
const takes = computed(() => {
  const { description, saved } = grid
  if (saved?.origin.kind !== 'service' || !description) return null
  const { save } = description.can
  return [
    save?.update === true ? text.takesCells : '',
    save?.insert === true ? text.takesNew : '',
    save?.remove === true ? text.takesDeletions : '',
  ].filter(Boolean)
})
const HOW = ANSWERS.map(value => ({ value, title: text.answers[value] }))
const LATENCIES = [0, 300, 2000].map(value => ({ value, title: text.after(value) }))

const RATES = [0, 10, 100, 1000, 10_000].map(value => ({ value, title: text.rates(value) }))

const setCheck = (nth: number, change: Partial<Editing['checks'][number]>): void =>
  set({
    checks: (editing.value?.checks ?? []).map((check, at) => (at === nth ? { ...check, ...change } : check)),
  })
</script>

<template>
  <h3>{{ text.changingRows }}</h3>
  <p class="soft">
    {{ !keyed ? text.needsKey : editable === 0 ? text.noColumnYet : text.columnsCanBeChanged(editable) }}
  </p>
  <KeyProposals v-if="!keyed" />
  <VAutocomplete
    :label="text.columns"
    multiple
    chips
    closable-chips
    :items="own"
    :model-value="chosen"
    @update:model-value="letChange"
  />
  <template v-if="editing && keyed">
    <div class="fields">
      <VSelect
        :model-value="editing.save"
        :items="SAVES"
        :label="text.isSaved"
        @update:model-value="set({ save: $event })"
      />
      <VSelect
        :model-value="editing.newRows ?? ''"
        :items="PLACES"
        :label="text.newRows"
        @update:model-value="
          set({ newRows: PLACES.find(({ value }) => value !== '' && value === $event)?.value || undefined })
        "
      />
    </div>
    <VCheckbox
      v-if="!takes"
      :model-value="editing.seen"
      :label="text.seen"
      @update:model-value="set({ seen: $event === true })"
    />
    <VCheckbox
      :model-value="editing.remove"
      :label="text.remove"
      @update:model-value="set({ remove: $event === true })"
    />
    <VCheckbox
      :model-value="editing.leaving"
      :label="text.leaving"
      @update:model-value="set({ leaving: $event === true })"
    />
    <div v-for="(check, nth) of editing.checks" :key="nth" class="box check">
      <ExpressionField
        :model-value="check.holds"
        :fields="grid.description?.fields ?? []"
        :label="text.holds"
        wanted="boolean"
        @update:model-value="setCheck(nth, { holds: $event })"
      />
      <VTextField
        :model-value="check.says"
        :label="text.says"
        @change="setCheck(nth, { says: $event.target.value })"
      />
      <button
        type="button"
        class="link-button"
        @click="set({ checks: editing.checks.filter((_, at) => at !== nth) })"
      >
        {{ text.takeOut }}
      </button>
    </div>
    <VBtn
      size="small"
      @click="set({ checks: [...editing.checks, { holds: 'true', says: text.notRight, columns: [] }] })"
    >
      {{ text.addCheck }}
    </VBtn>
    <h3>{{ text.trySaving }}</h3>
    <p v-if="takes" class="soft">
      {{ takes.length > 0 ? text.serviceTakes(takes) : text.serviceTakesNothing }}
    </p>
    <p v-else class="soft">{{ text.standIn }}</p>
    <div v-if="!takes" class="fields">
      <VSelect v-model="trying.how" :items="HOW" :label="text.service" />
      <VSelect v-model="trying.rate" :items="RATES" :label="text.changesItself" />
      <VSelect v-model="trying.latencyMs" :items="LATENCIES" :label="text.answersAfter" />
    </div>
  </template>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 8px;
  padding-block: 8px 4px;
}
.check {
  display: grid;
  gap: 8px;
  margin-block: 8px;
}
</style>
