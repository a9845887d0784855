import { partsCode } from './parts-code'
import {
  answerCode,
  arrangementsStore,
  fileSource,
  keepsArrangements,
  optionsCode,
  rowsName,
  type HandedGrid,
} from './handed-grid'

/** The grid as a Vue component, with one column's cells left to a slot to show how. */
export function vueCode(grid: HandedGrid): string {
  // A slot's name stands in the template as it is, so its key must be a plain word.
  const slotted = grid.definition.columns.find(column => /^[\w-]+$/.test(column.key))
  const cell = slotted ? `\n    <template #cell:${slotted.key}="{ text }">{{ text }}</template>` : ''
  const painter = grid.definition.detail?.painter
  const drawn = painter !== undefined && /^[\w-]+$/.test(painter)
  const detail = drawn
    ? `\n    <template #detail:${painter}="{ record }"><pre>{{ record }}</pre></template>`
    : ''
  const slot = cell || detail ? `${cell}${detail}\n  ` : ''
  const parts = partsCode(grid, 'javascript', !drawn)
  const { origin } = grid
  const fromFile = origin.kind === 'file'
  const rows = fromFile
    ? `
const source = shallowRef()
onMounted(async () => {
${answerCode(`./${rowsName(origin)}`, '  ')}  source.value = ${fileSource(origin, 'await answer.blob()')}
})
`
    : ''
  const keeps = keepsArrangements(grid)
  return `<script setup>
${fromFile ? "import { onMounted, shallowRef } from 'vue'\n" : ''}${keeps ? "import { localArrangements } from '@vast-meadow/grid'\n" : ''}import { VastMeadow } from '@vast-meadow/vue'

const options = ${optionsCode(grid)}
${keeps ? `const storage = ${arrangementsStore(grid)}\n` : ''}${parts ? `const parts = ${parts}\n` : ''}${rows}<\u002fscript>

<template>
  <VastMeadow ${fromFile ? 'v-if="source" :source="source" ' : ''}v-bind="options" ${keeps ? ':storage="storage" ' : ''}${parts ? ':parts="parts" ' : ''}style="height: 600px">${slot}</VastMeadow>
</template>
`
}
