<script setup lang="ts">
import { words } from '~/words'
import type { ListingOrigin } from '~/storage/saved-grid'

type Conditions = NonNullable<ListingOrigin['conditions']>
type OfField = Conditions[string]
type Kind = keyof OfField

/** Which parameter of a service asks what of a field. */
const conditions = defineModel<ListingOrigin['conditions']>()
const { fields } = defineProps<{ fields: readonly string[] }>()
const text = words.listing

const KINDS: readonly Kind[] = [
  'equals',
  'one-of',
  'contains',
  'starts',
  'ends',
  'above',
  'below',
  'from',
  'to',
]
const kinds = KINDS.map(value => ({ value, title: text.kinds[value] }))

interface Line {
  readonly field: string
  readonly kind: Kind
  readonly asked: OfField[Kind]
}
const lines = computed<readonly Line[]>(() =>
  Object.entries(conditions.value ?? {}).flatMap(([field, of]) =>
    KINDS.flatMap(kind => (of[kind] === undefined ? [] : [{ field, kind, asked: of[kind] }])),
  ),
)
const parameterOf = ({ asked }: Line): string => (typeof asked === 'object' ? asked.parameter : (asked ?? ''))

function keep(next: readonly Line[]): void {
  const made: Record<string, OfField> = {}
  for (const { field, kind, asked } of next) made[field] = { ...made[field], [kind]: asked }
  conditions.value = next.length > 0 ? made : undefined
}
const change = (nth: number, line: Line): void => keep(lines.value.map((old, i) => (i === nth ? line : old)))
const remove = (nth: number): void => keep(lines.value.filter((_, i) => i !== nth))

/** How several values are parted stays as it is said. */
function setParameter(nth: number, given: string): void {
  const line = lines.value[nth]
  const name = given.trim()
  if (!line || name === '') return
  const asked = typeof line.asked === 'object' ? { ...line.asked, parameter: name } : name
  change(nth, { ...line, asked })
}
function setKind(nth: number, kind: Kind): void {
  const line = lines.value[nth]
  if (line) change(nth, { ...line, kind, asked: parameterOf(line) })
}

/** The first field, by a kind that it is not asked by yet. */
function add(): void {
  for (const kind of KINDS)
    for (const field of fields) {
      if (lines.value.some(line => line.field === field && line.kind === kind)) continue
      keep([...lines.value, { field, kind, asked: field }])
      return
    }
}
</script>

<template>
  <fieldset class="conditions">
    <legend>{{ text.conditions }}</legend>
    <div v-for="(line, nth) in lines" :key="nth" class="line">
      <VSelect
        :model-value="line.field"
        :items="[...new Set([...fields, line.field])]"
        :label="text.field"
        @update:model-value="change(nth, { ...line, field: $event })"
      />
      <VSelect
        :model-value="line.kind"
        :items="kinds"
        :label="text.kind"
        @update:model-value="setKind(nth, $event)"
      />
      <VTextField
        :model-value="parameterOf(line)"
        :label="text.parameter"
        @change="setParameter(nth, $event.target.value)"
      />
      <button
        type="button"
        class="link-button"
        :aria-label="text.removeCondition(line.field)"
        @click="remove(nth)"
      >
        ×
      </button>
    </div>
    <VBtn size="small" :disabled="fields.length === 0" @click="add">{{ text.addCondition }}</VBtn>
  </fieldset>
</template>

<style scoped>
.conditions {
  border: 0;
  margin: 10px 0 0;
  padding: 0;
  display: grid;
  gap: 8px;
  justify-items: start;
}
legend {
  font-weight: 600;
  margin-block-end: 6px;
}
.line {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
  gap: 8px;
  align-items: center;
  inline-size: 100%;
}
@media (max-width: 520px) {
  .line {
    grid-template-columns: minmax(0, 1fr) auto;
  }
}
</style>
