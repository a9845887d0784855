<script setup lang="ts">
import { recipeSchema, type RecipeInput } from '@vast-meadow/engine'
import { newColumn, recipeColumn, type MadeUpColumn } from '~/intake/made-up-columns'

const { add } = defineProps<{ add: (recipe: RecipeInput) => Promise<void> }>()
const open = defineModel<boolean>({ required: true })
const name = ref('Made-up rows')
const rows = ref(10_000)
const columns = ref<MadeUpColumn[]>([
  newColumn('id', 'count'),
  newColumn('place', 'pick'),
  newColumn('measured', 'number'),
  newColumn('day', 'date'),
])

const KINDS = [
  { value: 'count', title: 'counting on' },
  { value: 'number', title: 'number' },
  { value: 'date', title: 'day' },
  { value: 'time', title: 'moment' },
  { value: 'yes-no', title: 'yes or no' },
  { value: 'pick', title: 'one of some texts' },
  { value: 'remark', title: 'words' },
]

async function make(): Promise<void> {
  const recipe = {
    name: name.value.trim() || 'Made-up rows',
    rows: rows.value,
    columns: columns.value.map(recipeColumn),
  }
  const keys = recipe.columns.map(({ key }) => key)
  const doubled = keys.find((key, i) => keys.indexOf(key) !== i)
  if (doubled) throw new Error(`Two columns are called “${doubled}”. Give one another name.`)
  const read = recipeSchema.safeParse(recipe)
  if (!read.success) {
    const [issue] = read.error.issues
    const nth = issue.path[0] === 'columns' ? Number(issue.path[1]) : -1
    throw new Error(`${nth >= 0 ? `Column ${nth + 1}` : String(issue.path[0])}: ${issue.message}`)
  }
  await add(recipe)
}
</script>

<template>
  <ShelfDialog v-model="open" title="Make rows up" does="Make them" :act="make">
    <div class="head">
      <VTextField v-model="name" v-focus label="Name" />
      <VTextField v-model.number="rows" label="Rows" type="number" min="1" max="10000000" />
    </div>
    <ul class="columns">
      <li v-for="(column, nth) in columns" :key="nth" class="column">
        <VTextField v-model="column.key" :label="`Column ${nth + 1}`" />
        <VSelect v-model="column.kind" label="Holds" :items="KINDS" />
        <template v-if="column.kind === 'number'">
          <VTextField v-model.number="column.from" label="From" type="number" step="any" />
          <VTextField v-model.number="column.to" label="To" type="number" step="any" />
          <VTextField v-model.number="column.decimals" label="Decimals" type="number" min="0" max="15" />
          <VSelect
            v-model="column.lean"
            label="Spread"
            :items="[
              { value: 1, title: 'evenly' },
              { value: 3, title: 'mostly low' },
            ]"
          />
        </template>
        <template v-if="column.kind === 'date' || column.kind === 'time'">
          <VTextField v-model="column.first" label="From" type="date" />
          <VTextField v-model="column.last" label="To" type="date" />
        </template>
        <VTextField
          v-if="column.kind === 'yes-no'"
          v-model.number="column.yes"
          label="Yes, of 100"
          type="number"
          min="0"
          max="100"
        />
        <VTextField
          v-if="column.kind === 'pick' || column.kind === 'remark'"
          v-model="column.texts"
          class="wide"
          :label="column.kind === 'pick' ? 'Texts, parted by commas' : 'Words, parted by commas'"
        />
        <VSelect
          v-if="column.kind === 'pick'"
          v-model="column.lean"
          label="Spread"
          :items="[
            { value: 1, title: 'evenly' },
            { value: 3, title: 'mostly the first' },
          ]"
        />
        <VTextField
          v-if="column.kind !== 'count'"
          v-model.number="column.missing"
          label="Missing, of 100"
          type="number"
          min="0"
          max="100"
        />
        <VBtn
          class="remove"
          size="small"
          :aria-label="`Remove column ${nth + 1}`"
          :disabled="columns.length === 1"
          @click="columns.splice(nth, 1)"
          >Remove</VBtn
        >
      </li>
    </ul>
    <VBtn class="more" @click="columns.push(newColumn(`column ${columns.length + 1}`, 'number'))"
      >Add a column</VBtn
    >
  </ShelfDialog>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 10px;
}
.columns {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
}
.column {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 10px 8px;
  align-items: center;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: 12px 10px 10px;
}
.wide {
  grid-column: span 2;
}
.remove {
  place-self: end start;
  margin-block-end: 8px;
}
.more {
  justify-self: start;
}
@media (max-width: 640px) {
  .column {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
