<script setup lang="ts">
import { recipeInput, useOpenGrid } from '~/stores/open-grid'
import type { Origin } from '~/storage/saved-grid'
import { formatBytes, formatCount, formatMs } from '~/utils/format'

const grid = useOpenGrid()
const SIZES = [10_000, 100_000, 1_000_000, 5_000_000]
const LATENCIES = [0, 100, 400, 1500]
const busy = ref(false)

const recipe = computed(() => (grid.saved?.origin.kind === 'recipe' ? grid.saved.origin : null))
const facts = computed(() => {
  const { description } = grid
  if (!description) return []
  return [
    ['Rows', formatCount(description.total.rows)],
    ['Fields', formatCount(description.fields.length)],
    ['In memory', description.bytes > 0 ? formatBytes(description.bytes) : 'nothing, computed'],
    ['Ready after', formatMs(description.ms)],
    ['Works in', description.where],
  ]
})
const types = computed(() => {
  const counts = new Map<string, number>()
  for (const field of grid.description?.fields ?? [])
    counts.set(field.type, (counts.get(field.type) ?? 0) + 1)
  return [...counts]
})

async function replace(change: Partial<Extract<Origin, { kind: 'recipe' }>>, rows?: number): Promise<void> {
  const origin = { ...recipe.value!, ...change }
  const next = rows === undefined ? origin : { ...origin, recipe: { ...origin.recipe, rows } }
  busy.value = true
  await grid.replaceRows(recipeInput(next), next)
  busy.value = false
}
</script>

<template>
  <section>
    <h2>Source</h2>
    <p class="lead">Where the rows come from, and what was read.</p>
    <dl class="box facts">
      <div v-for="[name, value] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd class="figure">{{ value }}</dd>
      </div>
    </dl>
    <ul v-if="grid.description?.notes.length" class="notes">
      <li v-for="note in grid.description.notes" :key="note">{{ note }}</li>
    </ul>
    <ChoiceGroup
      v-if="recipe && !recipe.computed && (grid.description?.fields.length ?? 0) < 100"
      title="Volume"
      :choices="SIZES"
      :chosen="recipe.recipe.rows"
      :write="formatCount"
      :disabled="busy"
      @choose="replace({}, $event)"
    />
    <ChoiceGroup
      v-if="recipe?.computed"
      title="Every answer takes"
      :choices="LATENCIES"
      :chosen="recipe.latencyMs"
      :write="ms => `${ms} ms`"
      :disabled="busy"
      @choose="replace({ latencyMs: $event })"
    />
    <h3>Types found</h3>
    <p class="types">
      <span v-for="[type, count] in types" :key="type"
        ><b class="figure">{{ count }}</b> {{ type }}</span
      >
    </p>
    <h3>Other rows</h3>
    <p class="lead">
      Another CSV file takes the place of these rows. A file that cannot be read changes nothing.
    </p>
    <FileButton label="Choose a CSV file" @file="grid.replaceFile($event)" />
  </section>
</template>

<style scoped>
.facts {
  margin-block: 0 12px;
  display: grid;
  gap: 4px;
}
.facts div {
  display: flex;
  gap: 12px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0 0 0 auto;
  margin-inline-start: auto;
  font-size: 12px;
  text-align: end;
}
.notes {
  margin: 0;
  padding-inline-start: 16px;
  display: grid;
  gap: 6px;
}
.types {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
</style>
