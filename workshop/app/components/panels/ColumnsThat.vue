<script setup lang="ts">
import type { ColumnDefinition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

// The columns of which something is true, chosen by name.
const props = defineProps<{
  label: string
  /** Whether it is true of a column. */
  is: (column: ColumnDefinition) => boolean
  /** The column with it made true or untrue. */
  make: (column: ColumnDefinition, yes: boolean) => ColumnDefinition
  /** What changes, as undo names it. */
  what: string
}>()

const grid = useOpenGrid()
const columns = computed(() => grid.definition?.columns ?? [])
const items = computed(() => columns.value.map(({ key, title }) => ({ title: title || key, value: key })))
const chosen = computed(() => columns.value.filter(props.is).map(({ key }) => key))

function choose(keys: readonly string[]): void {
  const next = columns.value.map(column => {
    const yes = keys.includes(column.key)
    return yes === props.is(column) ? column : props.make(column, yes)
  })
  void grid.define(props.what, { ...grid.now.definition, columns: next })
}
</script>

<template>
  <VAutocomplete
    :model-value="chosen"
    :items="items"
    :label="label"
    multiple
    chips
    closable-chips
    @update:model-value="choose"
  />
</template>
