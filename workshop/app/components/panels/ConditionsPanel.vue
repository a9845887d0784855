<script setup lang="ts">
import { words } from '~/words'
import { WHERE_KEY } from '@vast-meadow/engine'
import { useHeldBack } from '~/composables/use-held-back'
import { useOpenGrid } from '~/stores/open-grid'
import { whyNot } from '~/utils/why-not'
import { formatCount, formatPassing } from '~/utils/format'

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
const refusal = computed(() => whyNot(grid.description?.can.conditions))
const found = computed(() => grid.report?.stages.find(stage => stage.stage === 'conditions')?.rowsIn ?? 0)
const asking = computed(() => active.value.length + (grid.arrangement?.where.trim() ? 1 : 0))
const heldBack = useHeldBack()
const whereHeld = computed(() => heldBack.value[WHERE_KEY])
const fields = computed(() => grid.description?.fields ?? [])

const allow = (strip: boolean | null): void =>
  void grid.define(words.conditionsPanel.askingStrip, { ...grid.now.definition, strip: strip ?? false })
</script>

<template>
  <section>
    <h2>{{ words.conditionsPanel.conditions }}</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        <template v-if="asking > 0">{{
          words.conditionsPanel.ofFoundRowsMeet(
            formatPassing(grid.report),
            formatCount(found),
            asking === 1 ? 'it' : 'all',
          )
        }}</template>
        <template v-else>{{ words.conditionsPanel.noColumnAsksAnythingOf }}</template>
      </p>
      <ConditionCard
        v-for="key in cards"
        :key="key"
        :column="key"
        :held="heldBack[key]"
        @lifted="adding = null"
      />
      <VAutocomplete
        :model-value="null"
        :items="free"
        :label="words.conditionsPanel.addAConditionOn"
        @update:model-value="adding = $event"
      />
      <h3>{{ words.conditionsPanel.overSeveralColumns }}</h3>
      <ExpressionField
        v-if="grid.arrangement"
        :model-value="grid.arrangement.where"
        :fields="fields"
        :label="words.conditionsPanel.mustBeTrueOfA"
        wanted="boolean"
        optional
        @update:model-value="grid.change({ where: $event })"
      />
      <p v-if="whereHeld !== undefined" class="held where">
        {{ words.conditionsPanel.holdsBack(formatCount(whereHeld)) }}
      </p>
      <ConditionsText />
      <h3>{{ words.conditionsPanel.readersMay }}</h3>
      <VCheckbox
        :model-value="grid.definition?.strip"
        :label="words.conditionsPanel.typeConditionsInTheAsking"
        @update:model-value="allow"
      />
      <ColumnsThat
        :is="({ askable }) => !askable"
        :label="words.conditionsPanel.setNoConditionOn"
        what="who may ask"
        :make="(column, yes) => ({ ...column, askable: !yes })"
      />
    </template>
  </section>
</template>

<style scoped>
.where {
  font-size: 12px;
  text-align: end;
}
</style>
