<script setup lang="ts">
import { words } from '~/words'
import type { BatchActionDefinition, Field } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'
import { nextActionName } from '~/utils/action-name'

/** What can be done with all selected rows. */
const grid = useOpenGrid()
const actions = computed(() => grid.definition?.actions ?? [])
const FIELDS: readonly Field[] = [{ key: 'selectedCount', type: 'integer' }]

const take = (next: readonly BatchActionDefinition[]): void =>
  void grid.define(words.batchActions.actions, { ...grid.now.definition, actions: [...next] })
const set = (at: number, change: Partial<BatchActionDefinition>): void =>
  take(actions.value.map((action, nth) => (nth === at ? said({ ...action, ...change }) : action)))

function add(): void {
  const { name, nth } = nextActionName(actions.value)
  take([...actions.value, { name, title: words.batchActions.actionNumber(nth), deletes: false }])
}
</script>

<template>
  <h3>{{ words.batchActions.withSelectedRows }}</h3>
  <p class="soft">{{ words.batchActions.buttonsInTheBar }}</p>
  <ActionCard
    v-for="(action, nth) of actions"
    :key="nth"
    :action="action"
    :fields="FIELDS"
    removable
    @set="set(nth, $event)"
    @remove="take(actions.toSpliced(nth, 1))"
  />
  <VBtn size="small" class="add" @click="add">{{ words.batchActions.addAnAction }}</VBtn>
</template>

<style scoped>
.add {
  margin-block-start: 8px;
}
</style>
