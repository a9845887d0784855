<script setup lang="ts">
import { summariesFor, type FieldType, type Summary } from '@vast-meadow/engine'
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { summaryTitle } from '~/utils/summary-title'

/** Which summaries of a column readers may choose among. */
const { column, type } = defineProps<{ column: string; type: FieldType }>()
const grid = useOpenGrid()
const all = computed<readonly Summary[]>(() => summariesFor(type))
const given = computed(() => grid.definition?.columns.find(({ key }) => key === column)?.summaries)
const name = (summary: Summary): string => JSON.stringify(summary)
const isOffered = (summary: Summary): boolean => given.value?.some(one => name(one) === name(summary)) ?? true

function offer(summary: Summary, yes: boolean): void {
  const offered = all.value.filter(one => (one === summary ? yes : isOffered(one)))
  const more = given.value?.filter(one => !all.value.some(other => name(other) === name(one))) ?? []
  const { definition } = grid.now
  const columns = definition.columns.map(one => {
    if (one.key !== column) return one
    const { summaries: _, ...others } = one
    const isAll = offered.length === all.value.length && more.length === 0
    return isAll ? others : { ...others, summaries: [...offered, ...more] }
  })
  void grid.define(words.groupsPanel.offered(grid.titleOf(column)), { ...definition, columns })
}
</script>

<template>
  <fieldset class="offered">
    <legend>{{ words.groupsPanel.readersMayChoose }}</legend>
    <label v-for="summary in all" :key="name(summary)">
      <input
        type="checkbox"
        :checked="isOffered(summary)"
        @change="offer(summary, ($event.target as HTMLInputElement).checked)"
      />
      {{ summaryTitle(summary) }}
    </label>
  </fieldset>
</template>

<style scoped>
.offered {
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 4px 10px 8px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
  gap: 4px 10px;
  font-size: 12.5px;
}
.offered legend {
  color: var(--ink-soft);
  font-size: 12px;
  padding-inline: 4px;
}
.offered label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.offered input {
  accent-color: var(--moss);
}
</style>
