<script setup lang="ts">
import { words } from '~/words'
import { sure } from '@vast-meadow/engine/client'
import type { Definition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'

/** Whether rows are shown in pages, and in which sizes. */
const grid = useOpenGrid()
const definition = computed(() => grid.now.definition)
const set = (pages: Definition['pages']): void =>
  void grid.define(words.changeName.pages, said({ ...definition.value, pages }))
const MOST_ROWS = 10_000
const isSize = (size: number): boolean => Number.isInteger(size) && size >= 1 && size <= MOST_ROWS

/** `20, 50` and the like; what is no number is passed over. */
const sizesOf = (text: string): number[] =>
  [...new Set(text.split(/[^\d]+/).map(Number))].filter(isSize).sort((a, b) => a - b)

function setPageSize(size: number): void {
  if (!isSize(size)) return
  set({ ...sure(definition.value.pages), size })
  grid.change({ pageSize: null })
}
</script>

<template>
  <VCheckbox
    :model-value="definition.pages !== undefined"
    :label="words.lookPanel.showRowsInPages"
    @update:model-value="set($event ? { size: 50, sizes: [20, 50, 100] } : undefined)"
  />
  <div v-if="definition.pages" class="fields">
    <VTextField
      type="number"
      :model-value="definition.pages.size"
      :label="words.lookPanel.rowsOnAPage"
      @change="setPageSize(Number($event.target.value))"
    />
    <VTextField
      :model-value="definition.pages.sizes.join(', ')"
      :label="words.lookPanel.readersChooseFrom"
      :placeholder="words.lookPanel.noChoice"
      persistent-placeholder
      @change="set({ ...sure(definition.pages), sizes: sizesOf($event.target.value) })"
    />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 9px;
  grid-template-columns: 1fr 1fr;
}
</style>
