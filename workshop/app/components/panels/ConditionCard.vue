<script setup lang="ts">
import { conditionPhrase, shower, type Condition, type Facets } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const LISTED = 8

const { column } = defineProps<{ column: string }>()
const emit = defineEmits<{ lifted: [] }>()
const grid = useOpenGrid()

const facets = shallowRef<Facets | null>(null)
const field = computed(() => grid.description?.fields.find(field => field.key === column))
const condition = computed<Condition | undefined>(() => grid.arrangement?.conditions[column])
const show = computed(() => {
  const format = grid.definition?.columns.find(defined => defined.key === column)?.format
  return field.value ? shower(field.value, format) : String
})
const phrase = computed(() => (condition.value ? conditionPhrase(condition.value, show.value) : 'any'))
const held = computed(() => grid.report?.heldBack[column] ?? 0)
const isNumber = computed(() => facets.value !== null && facets.value.low !== null)
const part = computed(() => condition.value?.parts[0])
const text = computed(() => (part.value?.kind === 'contains' ? part.value.text : ''))
const range = computed(() => (part.value?.kind === 'range' ? part.value : null))
const chosen = computed(() => new Set(part.value?.kind === 'one-of' ? part.value.values : []))

let asked = 0
watch(
  () => grid.report,
  async () => {
    const mine = ++asked
    try {
      const answer = await grid.facets(column, LISTED)
      if (mine === asked) facets.value = answer
    } catch {
      // A newer question has taken its place.
    }
  },
  { immediate: true },
)

function set(next: Condition | null): void {
  const { [column]: _old, ...others } = grid.arrangement!.conditions
  grid.change({ conditions: next ? { ...others, [column]: next } : others })
}

function lift(): void {
  set(null)
  emit('lifted')
}

const setText = (wanted: string | null): void =>
  set(wanted ? { match: 'all', parts: [{ kind: 'contains', text: wanted }] } : null)

function setRange(from: number | undefined, to: number | undefined): void {
  if (from === undefined && to === undefined) return set(null)
  set({
    match: 'all',
    parts: [{ kind: 'range', ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }],
  })
}

function choose(value: string | number | boolean, on: boolean): void {
  const next = new Set(chosen.value)
  if (on) next.add(value)
  else next.delete(value)
  set(next.size > 0 ? { match: 'all', parts: [{ kind: 'one-of', values: [...next] }] } : null)
}
</script>

<template>
  <article class="box">
    <div class="row">
      <b>{{ grid.titleOf(column) }}</b>
      <span class="soft phrase" :title="phrase">{{ phrase }}</span>
      <button
        type="button"
        class="link-button push"
        :aria-label="`Lift the condition on ${grid.titleOf(column)}`"
        @click="lift"
      >
        lift
      </button>
    </div>
    <template v-if="facets && isNumber">
      <RangeHistogram :facets="facets" :from="range?.from" :to="range?.to" />
      <RangeFields
        :type="field!.type"
        :title="grid.titleOf(column)"
        :low="facets.low!"
        :high="facets.high!"
        :from="range?.from"
        :to="range?.to"
        :show="show"
        @change="setRange"
      />
    </template>
    <VTextField
      v-else-if="field?.type === 'text'"
      :model-value="text"
      class="contains"
      :label="`${grid.titleOf(column)} contains`"
      clearable
      @update:model-value="setText"
    />
    <ValueList
      v-if="facets && !isNumber && facets.values.length > 0"
      :values="facets.values"
      :distinct="facets.distinct ?? 0"
      :chosen="chosen"
      @choose="choose"
    />
    <div class="row held-row">
      <span v-if="facets && facets.missing > 0" class="soft figure"
        >{{ formatCount(facets.missing) }} missing</span
      >
      <span v-if="condition" class="held push">holds back {{ formatCount(held) }}</span>
    </div>
  </article>
</template>

<style scoped>
.phrase {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.contains {
  margin-block-start: 8px;
}
.held-row {
  margin-block-start: 6px;
  font-size: 12px;
}
.held-row .figure {
  font-size: 11px;
}
</style>
