<script setup lang="ts">
import { words } from '~/words'
import type { Definition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'

/** How high rows are. */
const grid = useOpenGrid()
const definition = computed(() => grid.now.definition)
const set = (change: Partial<Definition>): void =>
  void grid.define(words.lookPanel.rowHeight, said({ ...definition.value, ...change }))

const HEIGHTS = [
  { value: 'compact', title: words.lookPanel.compact },
  { value: 'normal', title: words.lookPanel.normal },
  { value: 'roomy', title: words.lookPanel.roomy },
  { value: 'px', title: words.lookPanel.aHeightInPx },
  { value: 'content', title: words.lookPanel.theirContent },
] as const
const height = computed(() => {
  const { density, rowHeight } = definition.value
  return rowHeight === undefined ? density : rowHeight === 'content' ? 'content' : 'px'
})
const START_PX = 48
const [LEAST_PX, MOST_PX] = [20, 400]

function setHeight(value: string): void {
  if (value === 'px') set({ rowHeight: START_PX })
  else if (value === 'content') set({ rowHeight: 'content' })
  else set({ density: value as Definition['density'], rowHeight: undefined })
}
</script>

<template>
  <VSelect
    :model-value="height"
    :items="HEIGHTS"
    class="whole"
    :label="words.lookPanel.rowsAreAsHighAs"
    @update:model-value="setHeight($event)"
  />
  <VTextField
    v-if="height === 'px'"
    type="number"
    :model-value="definition.rowHeight"
    :label="words.lookPanel.rowHeightPx"
    @change="set({ rowHeight: Math.max(LEAST_PX, Math.min(MOST_PX, Number($event.target.value))) })"
  />
  <p v-if="height === 'content'" class="soft hint whole">
    {{ words.lookPanel.columnsWhoseTextBreaksInto }}
  </p>
</template>
