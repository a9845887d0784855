<script setup lang="ts">
import { kindOf, summariesFor, summaryWords, type Summary } from '@vast-meadow/engine'
import { words } from '~/words/english'
import { useOpenGrid } from '~/stores/open-grid'

/** What each column comes to, one below the other; columns beyond are found by typing. */
const LISTED = 30

const grid = useOpenGrid()
const find = ref('')
const columns = computed(() => {
  const wanted = find.value.trim().toLowerCase()
  return (grid.definition?.columns ?? []).filter(({ key, title }) =>
    (title || key).toLowerCase().includes(wanted),
  )
})
const typeOf = (key: string): NonNullable<typeof grid.description>['fields'][number]['type'] =>
  grid.description?.fields.find(field => field.key === key)?.type ?? 'text'
const nameOf = (summary: Summary): string =>
  typeof summary === 'object' && summary.kind === 'quantile'
    ? `${summary.at * 100} % ${summaryWords.quantile.toLowerCase()}`
    : summaryWords[kindOf(summary)]
function choices(key: string): { title: string; value: Summary | null }[] {
  const now = grid.arrangement?.summaries[key]
  const all: Summary[] = [...summariesFor(typeOf(key))]
  if (now !== undefined && !all.some(one => JSON.stringify(one) === JSON.stringify(now))) all.push(now)
  return [
    { title: words.groupsPanel.noSummary, value: null },
    ...all.map(value => ({ title: nameOf(value), value })),
  ]
}
function set(key: string, summary: Summary | null): void {
  const { [key]: _, ...others } = grid.now.arrangement.summaries
  grid.change({ summaries: summary === null ? others : { ...others, [key]: summary } })
}
</script>

<template>
  <VTextField
    v-if="(grid.definition?.columns.length ?? 0) > LISTED"
    v-model="find"
    :label="words.groupsPanel.findColumn"
  />
  <ul class="summaries">
    <li v-for="{ key, title } in columns.slice(0, LISTED)" :key="key">
      <span>{{ title || key }}</span>
      <VSelect
        :model-value="grid.arrangement?.summaries[key] ?? null"
        :items="choices(key)"
        :aria-label="words.groupsPanel.summaryOf(title || key)"
        @update:model-value="set(key, $event)"
      />
    </li>
  </ul>
</template>

<style scoped>
.summaries {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 5px;
}
.summaries li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 170px;
  align-items: center;
  gap: 8px;
}
.summaries span {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
