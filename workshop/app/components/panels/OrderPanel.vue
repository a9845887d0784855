<script setup lang="ts">
import { words } from '~/words'
import type { OrderKey } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { whyNot } from '~/utils/why-not'
import { formatMs } from '~/utils/format'

const grid = useOpenGrid()
const refusal = computed(() => whyNot(grid.description?.can.order))
const order = computed(() => grid.arrangement?.order ?? [])
const stage = computed(() => grid.report?.stages.find(stage => stage.stage === 'order'))
const free = computed(() =>
  (grid.definition?.columns ?? [])
    .filter(column => column.orderable && !order.value.some(key => key.column === column.key))
    .map(column => ({ title: column.title || column.key, value: column.key })),
)
const columns = computed(() =>
  (grid.definition?.columns ?? []).map(({ key, title }) => ({ title: title || key, value: key })),
)
/** The column whose rule is looked at. */
const ruled = ref<string | null>(null)

function add(column: string | null): void {
  if (column) grid.change({ order: [...order.value, { column, direction: 'ascending' }] })
}

function turn(key: OrderKey): void {
  const direction = key.direction === 'ascending' ? 'descending' : 'ascending'
  grid.change({ order: order.value.map(other => (other === key ? { ...key, direction } : other)) })
}

function move(from: number, to: number): void {
  const next = [...order.value]
  next.splice(to, 0, ...next.splice(from, 1))
  grid.change({ order: next })
}

const list = useTemplateRef<HTMLElement>('list')
const { dragged, over, grab, nudge, drop: letGo } = useDragList(list, () => order.value.length, move)

const drop = (key: OrderKey): void => grid.change({ order: order.value.filter(other => other !== key) })

const several = (severalKeys: boolean | null): void =>
  void grid.define(words.orderPanel.severalKeys, {
    ...grid.now.definition,
    severalKeys: severalKeys ?? false,
  })
</script>

<template>
  <section>
    <h2>{{ words.orderPanel.order }}</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        {{
          order.length === 0 ? words.orderPanel.rowsStandAsTheyCame : words.orderPanel.dragKeysToChangeTheir
        }}
        <template v-if="stage?.fresh"> {{ words.orderPanel.took(formatMs(stage.ms)) }}</template>
      </p>
      <ol ref="list" class="keys" @pointermove="over" @pointerup="letGo" @pointercancel="letGo">
        <li v-for="(key, at) in order" :key="key.column" class="box row" :class="{ dragged: dragged === at }">
          <button
            type="button"
            class="grab figure"
            :aria-label="words.orderPanel.rankArrowsChangeIt(at + 1, grid.titleOf(key.column))"
            @pointerdown="grab($event, at)"
            @keydown="nudge($event, at)"
          >
            {{ at + 1 }}
          </button>
          <b class="title">{{ grid.titleOf(key.column) }}</b>
          <button type="button" class="link-button push" @click="turn(key)">{{ key.direction }}</button>
          <button
            type="button"
            class="small"
            :aria-label="words.orderPanel.doNotOrderBy(grid.titleOf(key.column))"
            @click="drop(key)"
          >
            ×
          </button>
        </li>
      </ol>
      <VAutocomplete
        :model-value="null"
        :items="free"
        :label="words.orderPanel.orderBy"
        @update:model-value="add"
      />
      <p class="soft hint">{{ words.orderPanel.inTheGridClickA }}</p>
      <h3>{{ words.orderPanel.byWhatAColumnIs }}</h3>
      <VAutocomplete v-model="ruled" :items="columns" :label="words.orderPanel.column" />
      <OrderRule v-if="ruled" :key="ruled" :column="ruled" />
      <h3>{{ words.orderPanel.readersMay }}</h3>
      <VCheckbox
        :model-value="grid.definition?.severalKeys"
        :label="words.orderPanel.orderBySeveralColumnsAt"
        @update:model-value="several"
      />
      <ColumnsThat
        :is="({ orderable }) => !orderable"
        :label="words.orderPanel.neverUseAsAKey"
        what="who may order"
        :make="(column, yes) => ({ ...column, orderable: !yes })"
      />
    </template>
  </section>
</template>

<style scoped>
.keys {
  list-style: none;
  margin: 0;
  padding: 0;
  touch-action: none;
}
.grab {
  background: var(--ink);
  color: var(--paper);
  border: 0;
  border-radius: 3px;
  padding: 1px 7px;
  font-size: 11px;
  cursor: grab;
}
.dragged {
  border-color: var(--ink-soft);
  box-shadow: 0 6px 18px -12px #000a;
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
