<script setup lang="ts">
import { whereText } from '~/utils/where-text'
import { sentences, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { inputOf, type Origin } from '~/storage/saved-grid'
import { formatBytes, formatCount, formatMs } from '~/utils/format'
import { sure } from '@vast-meadow/engine/client'

const grid = useOpenGrid()
const SIZES = [10_000, 100_000, 1_000_000, 5_000_000]
const LATENCIES = [0, 100, 400, 1500]
const TIMES = [1, 10, 100]
const busy = ref(false)

const recipe = computed(() => (grid.saved?.origin.kind === 'recipe' ? grid.saved.origin : null))
const file = computed(() => (grid.saved?.origin.kind === 'file' ? grid.saved.origin : null))
const service = computed(() => (grid.saved?.origin.kind === 'service' ? grid.saved.origin : null))
const listing = computed(() => (grid.saved?.origin.kind === 'listing' ? grid.saved.origin : null))
const madeUp = computed(() => recipe.value !== null || (file.value?.times ?? 1) > 1)
const facts = computed(() => {
  const { description } = grid
  if (!description) return []
  const { total } = description
  return [
    [
      words.sourcePanel.rows,
      total.kind === 'exact' ? formatCount(total.rows) : words.sourcePanel.atLeast(formatCount(total.rows)),
    ],
    [words.sourcePanel.fields, formatCount(grid.ownFields.length)],
    [
      words.sourcePanel.inMemory,
      description.bytes > 0 ? formatBytes(description.bytes) : words.sourcePanel.nothingComputed,
    ],
    [words.sourcePanel.readyAfter, formatMs(description.ms)],
    [words.sourcePanel.worksIn, whereText(description.where)],
  ]
})
/** What concerns single columns stands in the findings and beside the columns. */
const notes = computed(() => {
  const { notes = [], remarks, reading } = grid.description ?? {}
  if (recipe.value)
    return [words.sourcePanel[recipe.value.computed ? 'computedFromNumbers' : 'madeUpFromARecipe']]
  if (!remarks) return notes
  return [...(reading ? sentences.general(reading) : []), ...remarks.map(sentences.remark)]
})

async function replace(change: Partial<Extract<Origin, { kind: 'recipe' }>>, rows?: number): Promise<void> {
  const origin = { ...sure(recipe.value), ...change }
  const next = rows === undefined ? origin : { ...origin, recipe: { ...origin.recipe, rows } }
  busy.value = true
  await grid.replaceRows(sure(inputOf(next, undefined)), next)
  busy.value = false
}

async function grow(times: number): Promise<void> {
  busy.value = true
  await grid.grow(times)
  busy.value = false
}

/** Controls are costly to make: they come group by group. */
const stage = useStages(4)
</script>

<template>
  <section>
    <h2>{{ words.sourcePanel.source }}</h2>
    <p class="lead">
      {{ words.sourcePanel.whereTheRowsComeFrom }}
      <span v-if="madeUp" class="made-up">{{ words.sourcePanel.madeUp }}</span>
    </p>
    <FieldChangesBox v-if="grid.fieldChanges" />
    <dl class="box facts">
      <div v-for="[name, value] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd class="figure">{{ value }}</dd>
      </div>
    </dl>
    <ul v-if="notes.length" class="notes">
      <li v-for="note in notes" :key="note">{{ note }}</li>
    </ul>
    <ChoiceGroup
      v-if="recipe && !recipe.computed && grid.ownFields.length < 100"
      :title="words.sourcePanel.volume"
      :choices="SIZES"
      :chosen="recipe.recipe.rows"
      :write="formatCount"
      :disabled="busy"
      @choose="replace({}, $event)"
    />
    <ChoiceGroup
      v-if="recipe?.computed"
      :title="words.sourcePanel.everyAnswerTakes"
      :choices="LATENCIES"
      :chosen="recipe.latencyMs"
      :write="ms => `${ms} ms`"
      :disabled="busy"
      @choose="replace({ latencyMs: $event })"
    />
    <ServiceFacts v-if="stage > 0 && service" :address="`${service.address}/${service.rows}`">
      <FewRows :origin="service" />
    </ServiceFacts>
    <template v-if="stage > 0 && listing">
      <ListingFacts :origin="listing" />
      <ServiceFacts :address="listing.address" />
    </template>
    <FileReading v-if="stage > 0 && file && grid.description?.reading" :reading="grid.description.reading" />
    <FieldTypes v-if="stage > 1" :changeable="file !== null" />
    <RowKey v-if="stage > 2" />
    <ChoiceGroup
      v-if="file"
      :title="words.sourcePanel.volume"
      :choices="TIMES"
      :chosen="file.times ?? 1"
      :write="times => (times === 1 ? words.sourcePanel.asItIs : `× ${times}`)"
      :disabled="busy"
      @choose="grow"
    />
    <p v-if="file" class="soft">{{ words.sourcePanel.moreRowsAreMadeUp }}</p>
    <OtherRows v-if="stage > 3" />
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
  margin: 0;
  margin-inline-start: auto;
  font-size: 12px;
  text-align: end;
}
.notes {
  margin: 0;
  padding-inline-start: 16px;
  display: grid;
  gap: 6px;
  overflow-wrap: anywhere;
}
.made-up {
  background: var(--straw-tint);
  border-radius: 4px;
  padding: 0 6px;
  color: var(--ink);
}
</style>
