import { fileRows, optionsJson, type HandedGrid } from './handed-grid'

/** The grid as a Vue component, with the first column's cells left to a slot to show how. */
export function vueCode(grid: HandedGrid): string {
  const first = grid.definition.columns[0]?.key ?? 'key'
  const fromFile = grid.origin.kind === 'csv'
  const rows = fromFile
    ? `
const source = shallowRef()
onMounted(async () => {
  source.value = { kind: 'csv', blob: await (await fetch('./rows.csv')).blob() }
})
`
    : ''
  return `<script setup>
${fromFile ? "import { onMounted, shallowRef } from 'vue'\n" : ''}import { VastMeadow } from '@vast-meadow/vue'

const options = ${JSON.stringify(optionsJson(grid), null, 2)}
${rows}<\u002fscript>

<template>
  <VastMeadow ${fromFile ? 'v-if="source" :source="source" ' : ''}v-bind="options" style="height: 600px">
    <template #cell:${first}="{ text }">{{ text }}</template>
  </VastMeadow>
</template>
`
}
