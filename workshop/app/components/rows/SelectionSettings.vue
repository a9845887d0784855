<script setup lang="ts">
import { words } from '~/words'
import type { Definition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** How readers pick rows and cells. */
const grid = useOpenGrid()
const rules = computed(() => grid.definition?.selection)

const titled = <Value extends string>(titles: Readonly<Record<Value, string>>) =>
  (Object.keys(titles) as Value[]).map(value => ({ value, title: titles[value] }))
const ROWS = titled(words.selectionSettings.howMany)
const BY = titled(words.selectionSettings.by)
const WITHIN = titled(words.selectionSettings.within)
const NOT_PASSING = titled(words.selectionSettings.notPassing)

const set = (change: Partial<Definition['selection']>): void =>
  void grid.define(words.selectionSettings.selection, {
    ...grid.now.definition,
    selection: { ...grid.now.definition.selection, ...change },
  })
</script>

<template>
  <div v-if="rules" class="settings">
    <VSelect
      :model-value="rules.rows"
      :items="ROWS"
      :label="words.selectionSettings.rowsThatMayBeTicked"
      @update:model-value="set({ rows: $event })"
    />
    <template v-if="rules.rows !== 'none'">
      <VSelect
        :model-value="rules.by"
        :items="BY"
        :label="words.selectionSettings.tickedBy"
        @update:model-value="set({ by: $event })"
      />
      <VSelect
        v-if="grid.definition?.pages"
        :model-value="rules.within"
        :items="WITHIN"
        :label="words.selectionSettings.ticksHold"
        @update:model-value="set({ within: $event })"
      />
      <VSelect
        :model-value="rules.notPassing"
        :items="NOT_PASSING"
        :label="words.selectionSettings.rowsThatDoNotPass"
        @update:model-value="set({ notPassing: $event })"
      />
    </template>
    <VCheckbox
      :model-value="rules.cells"
      :label="words.selectionSettings.rangesOfCells"
      @update:model-value="set({ cells: $event === true })"
    />
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  gap: 12px;
  margin-block: 12px;
}
</style>
