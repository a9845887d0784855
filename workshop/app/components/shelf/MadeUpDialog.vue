<script setup lang="ts">
import { words } from '~/words'
import type { RecipeInput } from '@vast-meadow/engine'
import { madeUpRecipe, newColumn, sampleOf, type MadeUpColumn } from '~/intake/made-up-columns'

const { add } = defineProps<{ add: (recipe: RecipeInput) => Promise<void> }>()
const open = defineModel<boolean>({ required: true })
const name = ref(words.madeUpDialog.madeUpRows)
const rows = ref(10_000)
const columns = ref<MadeUpColumn[]>([
  newColumn('id', 'count'),
  newColumn('place', 'pick'),
  newColumn('measured', 'number'),
  newColumn('day', 'date'),
])

const KINDS = [
  { value: 'count', title: words.madeUpDialog.countingOn },
  { value: 'number', title: words.madeUpDialog.number },
  { value: 'date', title: words.madeUpDialog.day },
  { value: 'time', title: words.madeUpDialog.moment },
  { value: 'yes-no', title: words.madeUpDialog.yesOrNo },
  { value: 'pick', title: words.madeUpDialog.oneOfSomeTexts },
  { value: 'remark', title: words.madeUpDialog.words },
]

const recipeNow = () => madeUpRecipe(name.value, rows.value, columns.value)

/** The first rows as they will be; null while the form says none. */
const sample = computed(() => {
  try {
    return sampleOf(recipeNow())
  } catch {
    return null
  }
})

const make = async (): Promise<void> => await add(recipeNow())
</script>

<template>
  <ShelfDialog
    v-model="open"
    :title="words.madeUpDialog.makeRowsUp"
    :does="words.madeUpDialog.makeThem"
    :act="make"
    :width="980"
  >
    <div class="head">
      <VTextField v-model="name" v-focus :label="words.madeUpDialog.name" />
      <VTextField
        v-model.number="rows"
        :label="words.madeUpDialog.rows"
        type="number"
        min="1"
        max="10000000"
      />
    </div>
    <div class="columns">
      <div class="titles" aria-hidden="true">
        <span>{{ words.madeUpDialog.column }}</span><span>{{ words.madeUpDialog.holds }}</span
        ><span>{{ words.madeUpDialog.whichAre }}</span
        ><span>{{ words.madeUpDialog.missingOf100 }}</span>
      </div>
      <ul>
        <li v-for="(column, nth) in columns" :key="nth" class="column">
          <VTextField v-model="column.key" :aria-label="words.madeUpDialog.column2(nth + 1)" />
          <VSelect
            v-model="column.kind"
            :aria-label="words.madeUpDialog.columnHolds(nth + 1)"
            :items="KINDS"
          />
          <MadeUpSettings v-model="columns[nth]" :name="words.madeUpDialog.column2(nth + 1)" />
          <VTextField
            v-if="column.kind !== 'count'"
            v-model.number="column.missing"
            :aria-label="words.madeUpDialog.columnMissingOf100(nth + 1)"
            type="number"
            min="0"
            max="100"
          />
          <button
            type="button"
            class="remove"
            :aria-label="words.madeUpDialog.removeColumn(nth + 1)"
            :title="words.madeUpDialog.removeThisColumn"
            :disabled="columns.length === 1"
            @click="columns.splice(nth, 1)"
          >
            ✕
          </button>
        </li>
      </ul>
      <VBtn class="more" @click="columns.push(newColumn(`column ${columns.length + 1}`, 'number'))">{{
        words.madeUpDialog.addAColumn
      }}</VBtn>
    </div>
    <figure class="sample">
      <figcaption>{{ words.madeUpDialog.theFirstRows }}</figcaption>
      <div
        v-if="sample"
        class="scroll"
        tabindex="0"
        role="region"
        :aria-label="words.madeUpDialog.theFirstRows"
      >
        <table>
          <thead>
            <tr>
              <th v-for="(title, i) in sample.titles" :key="i" :class="{ numeric: sample.numeric[i] }">
                {{ title }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(texts, row) in sample.rows" :key="row">
              <td v-for="(text, i) in texts" :key="i" :class="{ numeric: sample.numeric[i] }">{{ text }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else>{{ words.madeUpDialog.theyShowHereOnceEvery }}</p>
    </figure>
  </ShelfDialog>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 10px;
}
.columns {
  display: grid;
  gap: 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.titles,
.column {
  display: grid;
  grid-template-columns: minmax(110px, 1fr) 174px minmax(0, 3.2fr) 96px 32px;
  gap: 8px;
  align-items: center;
}
.titles {
  color: var(--ink-soft);
  font-size: 12px;
}
.column {
  border-block-start: 1px solid var(--rule-soft);
  padding-block: 7px;
}
.remove {
  grid-column: -2;
  inline-size: 32px;
  block-size: 32px;
  border: 0;
  background: none;
  cursor: pointer;
  border-radius: var(--radius);
  color: var(--ink-soft);
}
.remove:hover:not(:disabled) {
  background: var(--sheet);
  color: var(--poppy);
}
.remove:disabled {
  opacity: 0.4;
  cursor: default;
}
.more {
  justify-self: start;
}
.sample {
  margin: 0;
  display: grid;
  gap: 4px;
}
.sample figcaption,
.sample p {
  color: var(--ink-soft);
  font-size: 12px;
  margin: 0;
}
.scroll {
  overflow: auto;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--sheet);
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  text-align: start;
  white-space: nowrap;
  padding: 3px 14px;
}
th {
  font-weight: 600;
  border-block-end: 1px solid var(--rule);
}
.numeric {
  text-align: end;
  font-variant-numeric: tabular-nums;
}
@media (max-width: 760px) {
  .titles {
    display: none;
  }
  .column {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 32px;
  }
  .column > .settings {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
