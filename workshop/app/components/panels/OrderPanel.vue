<script setup lang="ts">
import type { OrderKey } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatMs } from '~/utils/format'

const grid = useOpenGrid()
const able = computed(() => grid.description?.can.order ?? false)
const order = computed(() => grid.arrangement?.order ?? [])
const stage = computed(() => grid.report?.stages.find(stage => stage.stage === 'order'))
const free = computed(() =>
  (grid.definition?.columns ?? [])
    .filter(column => column.orderable && !order.value.some(key => key.column === column.key))
    .map(column => ({ title: column.title || column.key, value: column.key })),
)

function add(column: string | null): void {
  if (column) grid.change({ order: [...order.value, { column, direction: 'ascending' }] })
}

function turn(key: OrderKey): void {
  const direction = key.direction === 'ascending' ? 'descending' : 'ascending'
  grid.change({ order: order.value.map(other => (other === key ? { ...key, direction } : other)) })
}

function raise(at: number): void {
  const next = [...order.value]
  next.splice(at - 1, 0, ...next.splice(at, 1))
  grid.change({ order: next })
}

const drop = (key: OrderKey): void => grid.change({ order: order.value.filter(other => other !== key) })
</script>

<template>
  <section>
    <h2>Order</h2>
    <p v-if="!able" class="lead">These rows are computed one by one; they cannot be ordered.</p>
    <template v-else>
      <p class="lead">
        {{ order.length === 0 ? 'Rows stand as they came.' : 'Missing values come last in both directions.' }}
        <template v-if="stage?.fresh"> Took {{ formatMs(stage.ms) }}.</template>
      </p>
      <ol class="keys">
        <li v-for="(key, at) in order" :key="key.column" class="box row">
          <span class="rank figure">{{ at + 1 }}</span>
          <b class="title">{{ grid.titleOf(key.column) }}</b>
          <button type="button" class="link-button push" @click="turn(key)">{{ key.direction }}</button>
          <button
            v-if="at > 0"
            type="button"
            class="small"
            :aria-label="`Raise ${grid.titleOf(key.column)}`"
            @click="raise(at)"
          >
            ↑
          </button>
          <button
            type="button"
            class="small"
            :aria-label="`Do not order by ${grid.titleOf(key.column)}`"
            @click="drop(key)"
          >
            ×
          </button>
        </li>
      </ol>
      <VAutocomplete :model-value="null" :items="free" label="Order by" @update:model-value="add" />
      <p class="soft hint">In the grid: click a header, with Shift to add a key.</p>
    </template>
  </section>
</template>

<style scoped>
.keys {
  list-style: none;
  margin: 0;
  padding: 0;
}
.rank {
  background: var(--ink);
  color: var(--paper);
  border-radius: 3px;
  padding: 0 5px;
  font-size: 11px;
}
.title {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.small {
  border: 1px solid var(--rule);
  background: var(--panel);
  color: inherit;
  border-radius: 5px;
  inline-size: 24px;
  block-size: 24px;
  cursor: pointer;
  font: inherit;
}
.hint {
  margin-block-start: 10px;
}
</style>
