import { fileRows, optionsJson, type HandedGrid } from './handed-grid'

/** The grid as a Vue component, with the first column's cells left to a slot to show how. */
export function vueCode(grid: HandedGrid): string {
  const rows = fileRows(grid, './rows.csv')
  const first = grid.definition.columns[0]?.key ?? 'key'
  return `<script setup>
import { VastMeadow } from '@vast-meadow/vue'

const options = ${JSON.stringify(optionsJson(grid), null, 2)}
${rows}<\u002fscript>

<template>
  <VastMeadow v-bind="options" style="height: 600px">
    <template #cell:${first}="{ text }">{{ text }}</template>
  </VastMeadow>
</template>
`
}
