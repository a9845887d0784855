<script setup lang="ts">
import {
  printPhrase,
  readPhrase,
  summaryField,
  type GroupMeasure,
  type Keep,
  type PhraseOf,
} from '@vast-meadow/engine'
import { gridTexts, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'

/** Which groups of a level are kept: a condition on one measure, as a phrase, and the first or last of them. */
const { keep, measures } = defineProps<{
  keep: Keep | undefined
  measures: readonly { readonly title: string; readonly value: GroupMeasure }[]
}>()
const emit = defineEmits<{ change: [Keep | undefined] }>()

const grid = useOpenGrid()
const asked = computed(() => keep?.where.at(0))
const measure = shallowRef<GroupMeasure>(asked.value?.of ?? 'size')
const wrong = ref('')
const most = computed(() => keep?.most)
const canJoin = computed(
  () => (grid.description?.can.rest ?? true) === true || most.value?.rest === 'together',
)

function phraseOf(of: GroupMeasure): PhraseOf | null {
  if (of === 'size') return { field: { key: '', type: 'integer' } }
  const field = grid.description?.fields.find(({ key }) => key === of.column)
  return field ? { field: summaryField(of.summary, field) } : null
}
const phrase = computed(() => {
  const about = asked.value && phraseOf(asked.value.of)
  return asked.value && about ? printPhrase(asked.value.condition, about) : ''
})

function set({ where = [], most }: Partial<Keep>): void {
  emit('change', where.length > 0 || most ? { where, ...(most ? { most } : {}) } : undefined)
}
function read(text: string): void {
  const others = keep?.where.slice(1) ?? []
  const about = phraseOf(measure.value)
  const told = text.trim() && about ? readPhrase(text, about) : null
  wrong.value = told?.ok === false ? gridTexts.phraseProblem(told.problem) : ''
  if (told?.ok === false) return
  const where = told ? [{ of: measure.value, condition: told.condition }, ...others] : others
  set({ where, most: most.value })
}
function measureBy(of: GroupMeasure): void {
  measure.value = of
  if (phrase.value) read(phrase.value)
}
function setMost(change: Partial<NonNullable<Keep['most']>>): void {
  const begun = { count: 10, of: 'size' as const, direction: 'descending' as const, rest: 'out' as const }
  set({ where: keep?.where, most: { ...begun, ...most.value, ...change } })
}
function setCount(text: string): void {
  const count = Number(text)
  if (text.trim() === '') set({ where: keep?.where })
  else if (Number.isInteger(count) && count > 0) setMost({ count })
}
</script>

<template>
  <div class="pair">
    <VSelect
      :model-value="measure"
      :items="[...measures]"
      :label="words.groupsPanel.groupsWhose"
      @update:model-value="measureBy($event)"
    />
    <VTextField
      :model-value="phrase"
      :label="words.groupsPanel.is"
      :placeholder="gridTexts.keepIs"
      :error-messages="wrong"
      @change="read(($event.target as HTMLInputElement).value)"
    />
  </div>
  <div class="pair">
    <VSelect
      :model-value="most?.direction ?? 'descending'"
      :items="[
        { title: words.groupsPanel.onlyTheFirst, value: 'descending' },
        { title: words.groupsPanel.onlyTheLast, value: 'ascending' },
      ]"
      :label="words.groupsPanel.only"
      @update:model-value="setMost({ direction: $event })"
    />
    <VTextField
      :model-value="most ? String(most.count) : ''"
      type="number"
      :label="gridTexts.keepHowMany"
      @change="setCount(($event.target as HTMLInputElement).value)"
    />
  </div>
  <VSelect
    v-if="most"
    :model-value="most.of"
    :items="[...measures]"
    :label="gridTexts.keepBy"
    @update:model-value="setMost({ of: $event })"
  />
  <VCheckbox
    v-if="most && canJoin"
    :model-value="most.rest === 'together'"
    :label="gridTexts.keepRest"
    @update:model-value="setMost({ rest: $event ? 'together' : 'out' })"
  />
</template>

<style scoped>
.pair {
  display: flex;
  gap: 8px;
  align-items: start;
}
.pair > * {
  flex: 1 1 0;
  min-inline-size: 0;
}
</style>
