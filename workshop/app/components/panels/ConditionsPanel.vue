<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
/** A card for a column that asks nothing yet. */
const adding = ref<string | null>(null)

const active = computed(() => Object.keys(grid.arrangement?.conditions ?? {}))
const cards = computed(() =>
  adding.value && !active.value.includes(adding.value) ? [...active.value, adding.value] : active.value,
)
const free = computed(() =>
  (grid.definition?.columns ?? [])
    .filter(column => !cards.value.includes(column.key))
    .map(column => ({ title: column.title || column.key, value: column.key })),
)
const able = computed(() => grid.description?.can.conditions ?? false)
const found = computed(() => grid.report?.stages.find(stage => stage.stage === 'conditions')?.rowsIn ?? 0)
</script>

<template>
  <section>
    <h2>Conditions</h2>
    <p v-if="!able" class="lead">These rows are computed one by one; they cannot be narrowed.</p>
    <template v-else>
      <p class="lead">
        <template v-if="active.length > 0"
          >{{ formatCount(grid.report?.passing ?? 0) }} of {{ formatCount(found) }} found rows meet
          {{ active.length === 1 ? 'it' : 'all' }}.</template
        >
        <template v-else>No column asks anything of a row.</template>
      </p>
      <ConditionCard v-for="key in cards" :key="key" :column="key" @lifted="adding = null" />
      <VAutocomplete
        :model-value="null"
        :items="free"
        label="Add a condition on"
        @update:model-value="adding = $event"
      />
    </template>
  </section>
</template>
