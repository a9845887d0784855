<script setup lang="ts">
import { sentences, words } from '~/words'
import type { ColumnReadOptions } from '@vast-meadow/engine'
import { typeName } from '~/utils/type-name'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** The fields found, with their types; each can be read as another. */
const { changeable } = defineProps<{ changeable: boolean }>()
const grid = useOpenGrid()
const LISTED = 60
const busy = ref(false)
const find = ref('')

const TYPES: readonly { readonly title: string; readonly as: ColumnReadOptions }[] = [
  { title: words.fieldTypes.text, as: { type: 'text' } },
  { title: words.fieldTypes.integer, as: { type: 'integer' } },
  { title: words.fieldTypes.number, as: { type: 'number' } },
  { title: words.fieldTypes.numberDecimalComma, as: { type: 'number', decimal: ',' } },
  { title: words.fieldTypes.number12345, as: { type: 'number', thousands: ',' } },
  { title: words.fieldTypes.number123452, as: { type: 'number', decimal: ',', thousands: '.' } },
  { title: words.fieldTypes.number123453, as: { type: 'number', decimal: ',', thousands: ' ' } },
  { title: words.fieldTypes.boolean, as: { type: 'boolean' } },
  { title: words.fieldTypes.date, as: { type: 'date' } },
  { title: words.fieldTypes.dateDayFirst, as: { type: 'date', dateOrder: 'dmy' } },
  { title: words.fieldTypes.dateMonthFirst, as: { type: 'date', dateOrder: 'mdy' } },
  { title: words.fieldTypes.time, as: { type: 'time' } },
  { title: words.fieldTypes.datetime, as: { type: 'datetime' } },
  { title: words.fieldTypes.datetimeDayFirst, as: { type: 'datetime', dateOrder: 'dmy' } },
  { title: words.fieldTypes.datetimeMonthFirst, as: { type: 'datetime', dateOrder: 'mdy' } },
  { title: words.fieldTypes.datetimeWithOffset, as: { type: 'datetime', zoned: true } },
  { title: words.fieldTypes.tagsPartedByCommas, as: { type: 'tags', separator: ',' } },
  { title: words.fieldTypes.tagsPartedBySemicolons, as: { type: 'tags', separator: ';' } },
]
const CHOICES = TYPES.map(({ title }, value) => ({ title, value }))
const CHOICES_AND_BACK = [...CHOICES, { title: words.fieldTypes.asFoundOut, value: -1 }]

const fields = computed(() => {
  const readings = new Map(grid.description?.reading?.columns.map(column => [column.key, column]))
  return grid.ownFields.map(field => {
    const reading = readings.get(field.key)
    const style = reading?.style ?? null
    const shown =
      style && style.type === field.type
        ? sentences.style(style)
        : field.zoned
          ? words.fieldTypes.datetimeWithOffset
          : typeName(field.type)
    return { key: field.key, shown, asked: reading?.asked ?? false, misfits: reading?.misfits ?? null }
  })
})
const matching = computed(() => {
  const wanted = find.value.trim().toLowerCase()
  return fields.value.filter(({ key }) => key.toLowerCase().includes(wanted))
})

async function readAs(key: string, nth: number): Promise<void> {
  busy.value = true
  const chosen = TYPES[nth]
  await grid.readColumn(key, chosen ? chosen.as : {})
  busy.value = false
}
</script>

<template>
  <h3>{{ words.fieldTypes.fieldsAndTypes }}</h3>
  <VTextField
    v-if="fields.length > 20"
    v-model="find"
    :label="words.fieldTypes.findAField"
    type="search"
    clearable
  />
  <ul class="fields">
    <li v-for="field in matching.slice(0, LISTED)" :key="field.key">
      <span class="key" :title="field.key">{{ field.key }}</span>
      <ChoiceMenu
        v-if="changeable"
        :label="words.fieldTypes.typeOf(field.key)"
        :text="field.shown"
        :choices="field.asked ? CHOICES_AND_BACK : CHOICES"
        :disabled="busy"
        @choose="readAs(field.key, $event)"
      />
      <span v-else class="soft">{{ field.shown }}</span>
      <p v-if="field.misfits && field.misfits.count > 0" class="misfits">
        {{ formatCount(field.misfits.count) }} {{ field.misfits.count === 1 ? 'disagrees' : 'disagree' }}:
        <span v-for="{ row, text } in field.misfits.examples.slice(0, 3)" :key="row" class="figure"
          >{{ words.fieldTypes.inRow(text.slice(0, 24), formatCount(row + 1)) }}
        </span>
      </p>
    </li>
  </ul>
  <p v-if="matching.length > LISTED" class="soft">
    {{ words.fieldTypes.moreTypeToFindThem(formatCount(matching.length - LISTED)) }}
  </p>
</template>

<style scoped>
.fields {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  gap: 3px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  column-gap: 8px;
}
.key {
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.misfits {
  grid-column: 1 / -1;
  color: var(--poppy);
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
</style>
