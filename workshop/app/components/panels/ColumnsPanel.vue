<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const LISTED = 120
const grid = useOpenGrid()
const find = ref('')

const columns = computed(() => {
  const { arrangement, definition, description } = grid
  if (!arrangement || !definition || !description) return []
  const types = new Map(description.fields.map(field => [field.key, field.type]))
  return arrangement.columns.map(key => ({
    key,
    title: grid.titleOf(key),
    type: types.get(key) ?? 'not in the data',
    shown: !arrangement.hidden.includes(key),
    held: arrangement.pinnedStart.includes(key),
  }))
})
const matching = computed(() => {
  const wanted = find.value.trim().toLowerCase()
  return columns.value.filter(column => column.title.toLowerCase().includes(wanted))
})
const shownCount = computed(() => columns.value.filter(column => column.shown).length)

function show(key: string, shown: boolean): void {
  const others = grid.arrangement!.hidden.filter(hidden => hidden !== key)
  grid.change({ hidden: shown ? others : [...others, key] })
}

function hold(key: string, held: boolean): void {
  const others = grid.arrangement!.pinnedStart.filter(other => other !== key)
  grid.change({ pinnedStart: held ? [...others, key] : others })
}
</script>

<template>
  <section>
    <h2>Columns</h2>
    <p class="lead">{{ formatCount(shownCount) }} of {{ formatCount(columns.length) }} are shown.</p>
    <VTextField v-model="find" label="Find a column" type="search" clearable />
    <ul class="columns">
      <li v-for="column in matching.slice(0, LISTED)" :key="column.key" class="row">
        <VCheckbox
          :model-value="column.shown"
          :label="column.title"
          class="check"
          @update:model-value="show(column.key, $event === true)"
        />
        <span class="soft figure type">{{ column.type }}</span>
        <button
          type="button"
          class="hold"
          :aria-pressed="column.held"
          :aria-label="`Hold ${column.title} at the start`"
          @click="hold(column.key, !column.held)"
        >
          hold
        </button>
      </li>
    </ul>
    <p v-if="matching.length > LISTED" class="soft">
      {{ formatCount(matching.length - LISTED) }} more. Type to find them.
    </p>
    <p v-if="matching.length === 0" class="soft">No column has that title.</p>
  </section>
</template>

<style scoped>
.columns {
  list-style: none;
  margin: 10px 0;
  padding: 0;
}
.check {
  flex: 1;
  min-inline-size: 0;
}
.check :deep(.v-label) {
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.type {
  font-size: 11px;
}
.hold {
  font: inherit;
  font-size: 12px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--sheet);
  color: var(--ink-soft);
  padding: 1px 8px;
  cursor: pointer;
}
.hold[aria-pressed='true'] {
  background: var(--moss-tint);
  color: var(--moss-ink);
  border-color: transparent;
}
.columns li {
  block-size: 30px;
}
</style>
