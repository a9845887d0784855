<script setup lang="ts">
import { words } from '~/words'
import type { ColumnDefinition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** By what one column's order goes: its values, what it shows, or an expression; and where missing ones come. */
const { column } = defineProps<{ column: string }>()
const grid = useOpenGrid()
type Rule = ColumnDefinition['order']

const rule = computed<Rule>(
  () =>
    grid.definition?.columns.find(({ key }) => key === column)?.order ?? {
      by: 'value',
      natural: false,
      missing: 'last',
    },
)

function set(change: Partial<Rule>): void {
  const { definition } = grid.now
  const columns = definition.columns.map(one =>
    one.key === column ? { ...one, order: { ...one.order, ...change } } : one,
  )
  void grid.define(words.orderRule.orderOfAColumn, { ...definition, columns })
}
</script>

<template>
  <div class="box rule">
    <VSelect
      :model-value="rule.by"
      :items="[
        { title: words.orderRule.itsValues, value: 'value' },
        { title: words.orderRule.whatItShows, value: 'shown' },
        { title: words.orderRule.anExpression, value: 'expression' },
      ]"
      :label="words.orderRule.goesBy"
      @update:model-value="set({ by: $event })"
    />
    <ExpressionField
      v-if="rule.by === 'expression'"
      :model-value="rule.expression ?? ''"
      :fields="grid.description?.fields ?? []"
      :label="words.orderRule.ordersByWhatThisComes"
      @update:model-value="set({ expression: $event })"
    />
    <VCheckbox
      v-else
      :model-value="rule.natural"
      :label="words.orderRule.digitsInTextsCountAs"
      @update:model-value="set({ natural: $event ?? false })"
    />
    <VSelect
      :model-value="rule.missing"
      :items="[
        { title: words.orderRule.missingPlaces.last, value: 'last' },
        { title: words.orderRule.missingPlaces.first, value: 'first' },
      ]"
      :label="words.orderRule.missingValuesCome"
      @update:model-value="set({ missing: $event })"
    />
  </div>
</template>

<style scoped>
.rule {
  display: grid;
  gap: 8px;
  margin-block-start: 10px;
}
</style>
