<script setup lang="ts">
import { words } from '~/words'
import { EDITORS, type ColumnDefinition, type ColumnEdit, type Field } from '@vast-meadow/engine'
import { NEW_EDIT } from '~/columns/column-edits'
import { said } from '~/utils/said'

/** What cells of a column may be changed into, and in which rows. */
const { column, field, fields, keyed } = defineProps<{
  column: ColumnDefinition
  field: Field | null
  fields: readonly Field[]
  /** Whether anything names a row. */
  keyed: boolean
}>()
const emit = defineEmits<{ set: [change: Partial<ColumnDefinition>] }>()
const text = words.editSettings

const edit = computed(() => column.edit)
const isNumber = computed(() => field?.type === 'integer' || field?.type === 'number')
const isDated = computed(() => ['date', 'time', 'datetime'].includes(field?.type ?? ''))
const isText = computed(() => field?.type === 'text' || field?.type === 'tags')

const set = (change: Partial<ColumnEdit>): void => {
  if (edit.value) emit('set', { edit: said({ ...edit.value, ...change }) })
}

const bound = (given: string): string | number | undefined =>
  given.trim() === '' ? undefined : isNumber.value ? Number(given) : given.trim()
const count = (given: string): number | undefined => {
  const number = Number(given)
  return given.trim() !== '' && Number.isInteger(number) && number >= 0 ? number : undefined
}

const editors = [
  { value: '' as const, title: text.byType },
  ...EDITORS.map(value => ({ value, title: text.editors[value] })),
]
const choicesFrom = computed(() => {
  const choices = edit.value?.choices
  if (choices === undefined) return 'none'
  if (Array.isArray(choices)) return 'list'
  return 'of' in choices ? 'values' : 'own'
})
const CHOICES = (['none', 'list', 'values', 'own'] as const).map(value => ({
  value,
  title: text.choices[value],
}))
const listed = computed(() => {
  const choices = edit.value?.choices
  return Array.isArray(choices) ? choices.join(', ') : ''
})
const ofField = computed(() => {
  const choices = edit.value?.choices
  return choices && 'of' in choices ? choices : null
})
const ownName = computed(() => {
  const choices = edit.value?.choices
  return choices && 'own' in choices ? choices.own : ''
})
/** Rows cannot be alike by tags, nor by the column itself. */
const alike = computed(() =>
  fields
    .filter(({ key, type }) => key !== column.key && type !== 'tags')
    .map(({ key }) => ({ value: key, title: key })),
)
const fieldKeys = computed(() => fields.map(({ key }) => ({ value: key, title: key })))
function chooseFrom(kind: string): void {
  const choices = {
    none: undefined,
    list: [],
    values: { of: column.key, like: [] },
    own: { own: column.key },
  }
  if (kind in choices) set({ choices: choices[kind as keyof typeof choices] })
}
const takeList = (given: string): void =>
  set({
    choices: given
      .split(',')
      .map(one => one.trim())
      .filter(Boolean)
      .map(one => (isNumber.value ? Number(one) : one)),
  })
</script>

<template>
  <h3>{{ text.changing }}</h3>
  <VCheckbox
    :model-value="edit !== undefined"
    :label="text.canBeChanged"
    @update:model-value="emit('set', { edit: $event === true ? NEW_EDIT : undefined })"
  />
  <template v-if="edit && !keyed">
    <p class="soft held" role="status">{{ text.needsKey }}</p>
    <KeyProposals />
  </template>
  <div v-if="edit" class="fields">
    <VSelect
      :model-value="edit.editor ?? ''"
      :items="editors"
      :label="text.editor"
      @update:model-value="set({ editor: EDITORS.find(name => name === $event) })"
    />
    <VTextField
      :model-value="edit.start ?? ''"
      :label="text.start"
      @change="set({ start: $event.target.value || undefined })"
    />
    <template v-if="isNumber || isDated">
      <VTextField
        :model-value="edit.least ?? ''"
        :label="text.least"
        @change="set({ least: bound($event.target.value) })"
      />
      <VTextField
        :model-value="edit.most ?? ''"
        :label="text.most"
        @change="set({ most: bound($event.target.value) })"
      />
    </template>
    <template v-if="isText">
      <VTextField
        type="number"
        :model-value="edit.shortest ?? ''"
        :label="text.shortest"
        @change="set({ shortest: count($event.target.value) })"
      />
      <VTextField
        type="number"
        :model-value="edit.longest ?? ''"
        :label="text.longest"
        @change="set({ longest: count($event.target.value) || undefined })"
      />
      <VTextField
        class="whole"
        :model-value="edit.pattern ?? ''"
        :label="text.pattern"
        @change="set({ pattern: $event.target.value || undefined })"
      />
    </template>
    <VSelect
      :model-value="choicesFrom"
      :items="CHOICES"
      :label="text.choicesFrom"
      @update:model-value="chooseFrom($event)"
    />
    <VTextField
      v-if="choicesFrom === 'list'"
      :model-value="listed"
      :label="text.list"
      @change="takeList($event.target.value)"
    />
    <template v-if="ofField">
      <VSelect
        :model-value="ofField.of"
        :items="fieldKeys"
        :label="text.valuesOf"
        @update:model-value="set({ choices: { ...ofField, of: $event } })"
      />
      <VSelect
        class="whole"
        :model-value="ofField.like"
        :items="alike"
        :label="text.beside"
        multiple
        @update:model-value="set({ choices: { ...ofField, like: $event } })"
      />
    </template>
    <VTextField
      v-if="choicesFrom === 'own'"
      :model-value="ownName"
      :label="text.ownChoices"
      @change="set({ choices: { own: $event.target.value.trim() || column.key } })"
    />
    <ExpressionField
      class="whole"
      :model-value="edit.when ?? ''"
      :fields="fields"
      :label="text.when"
      wanted="boolean"
      optional
      @update:model-value="set({ when: $event.trim() || undefined })"
    />
    <ExpressionField
      class="whole"
      :model-value="edit.check ?? ''"
      :fields="fields"
      :label="text.check"
      wanted="boolean"
      optional
      @update:model-value="set({ check: $event.trim() || undefined })"
    />
    <VTextField
      v-if="edit.check || edit.pattern"
      class="whole"
      :model-value="edit.says ?? ''"
      :label="text.says"
      @change="set({ says: $event.target.value || undefined })"
    />
  </div>
  <template v-if="edit">
    <VCheckbox
      :model-value="edit.required"
      :label="text.required"
      @update:model-value="set({ required: $event === true })"
    />
    <VCheckbox
      :model-value="edit.unique"
      :label="text.unique"
      @update:model-value="set({ unique: $event === true })"
    />
    <VCheckbox
      v-if="isNumber"
      :model-value="edit.whole"
      :label="text.whole"
      @update:model-value="set({ whole: $event === true })"
    />
    <VCheckbox
      v-if="choicesFrom === 'list' || choicesFrom === 'values'"
      :model-value="edit.onlyChoices"
      :label="text.onlyChoices"
      @update:model-value="set({ onlyChoices: $event === true })"
    />
  </template>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 8px;
  padding-block-start: 5px;
}
.whole {
  grid-column: 1 / -1;
}
</style>
