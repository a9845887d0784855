<script setup lang="ts">
import { isAble, kindOf, summariesFor, type Summary } from '@vast-meadow/engine'
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { summaryTitle } from '~/utils/summary-title'

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
function choices(key: string): { title: string; value: Summary | null }[] {
  const now = grid.arrangement?.summaries[key]
  const all: Summary[] = summariesFor(typeOf(key)).filter(one =>
    isAble(grid.description?.can.summaries, kindOf(one)),
  )
  if (now !== undefined && !all.some(one => JSON.stringify(one) === JSON.stringify(now))) all.push(now)
  return [
    { title: words.groupsPanel.noSummary, value: null },
    ...all.map(value => ({ title: summaryTitle(value), value })),
  ]
}
/** The column of which it is chosen what readers may choose. */
const offering = ref<string | null>(null)
function offeredOf(key: string): string {
  const given = grid.definition?.columns.find(column => column.key === key)?.summaries
  return given ? words.groupsPanel.offersSome(given.length) : words.groupsPanel.offersAll
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
  <div class="heads" aria-hidden="true">
    <span>{{ words.groupsPanel.column }}</span>
    <span>{{ words.groupsPanel.summary }}</span>
    <span>{{ words.groupsPanel.offer }}</span>
  </div>
  <ul class="summaries">
    <li v-for="{ key, title } in columns.slice(0, LISTED)" :key="key">
      <span class="name">{{ title || key }}</span>
      <VSelect
        :model-value="grid.arrangement?.summaries[key] ?? null"
        :items="choices(key)"
        :aria-label="words.groupsPanel.summaryOf(title || key)"
        @update:model-value="set(key, $event)"
      />
      <button
        type="button"
        class="link-button"
        :aria-label="words.groupsPanel.offeredNow(title || key, offeredOf(key))"
        :aria-expanded="offering === key"
        @click="offering = offering === key ? null : key"
      >
        {{ offeredOf(key) }}
      </button>
      <OfferedSummaries v-if="offering === key" class="offering" :column="key" :type="typeOf(key)" />
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
.heads,
.summaries li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 122px 36px;
  align-items: center;
  gap: 8px;
}
.heads {
  color: var(--ink-soft);
  font-size: 12px;
  margin-block-end: 4px;
}
.offering {
  grid-column: 1 / -1;
}
.name {
  font-size: 13px;
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
