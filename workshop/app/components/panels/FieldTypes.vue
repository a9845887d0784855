<script setup lang="ts">
import { styleText, type ColumnReadOptions, type FieldType } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** The fields found, with their types; each can be read as another. */
const { changeable } = defineProps<{ changeable: boolean }>()
const grid = useOpenGrid()
const LISTED = 60
const busy = ref(false)
const find = ref('')

const TYPES: readonly { readonly title: string; readonly as: ColumnReadOptions }[] = [
  { title: 'text', as: { type: 'text' } },
  { title: 'integer', as: { type: 'integer' } },
  { title: 'number', as: { type: 'number' } },
  { title: 'number, decimal comma', as: { type: 'number', decimal: ',' } },
  { title: 'number, 1,234.5', as: { type: 'number', thousands: ',' } },
  { title: 'number, 1.234,5', as: { type: 'number', decimal: ',', thousands: '.' } },
  { title: 'number, 1 234,5', as: { type: 'number', decimal: ',', thousands: ' ' } },
  { title: 'boolean', as: { type: 'boolean' } },
  { title: 'date', as: { type: 'date' } },
  { title: 'date, day first', as: { type: 'date', dateOrder: 'dmy' } },
  { title: 'date, month first', as: { type: 'date', dateOrder: 'mdy' } },
  { title: 'time', as: { type: 'time' } },
  { title: 'datetime', as: { type: 'datetime' } },
  { title: 'datetime, day first', as: { type: 'datetime', dateOrder: 'dmy' } },
  { title: 'datetime, month first', as: { type: 'datetime', dateOrder: 'mdy' } },
  { title: 'datetime with offset', as: { type: 'datetime', zoned: true } },
  { title: 'tags, parted by commas', as: { type: 'tags', separator: ',' } },
  { title: 'tags, parted by semicolons', as: { type: 'tags', separator: ';' } },
]
const CHOICES = TYPES.map(({ title }, value) => ({ title, value }))
const CHOICES_AND_BACK = [...CHOICES, { title: 'as found out', value: -1 }]

const fields = computed(() => {
  const readings = new Map(grid.description?.reading?.columns.map(column => [column.key, column]))
  return grid.ownFields.map(field => {
    const reading = readings.get(field.key)
    const style = reading?.style ?? null
    const shown = style && style.type === field.type ? styleText(style) : typeName(field.type, field.zoned)
    return { key: field.key, shown, asked: reading?.asked ?? false, misfits: reading?.misfits ?? null }
  })
})
const matching = computed(() => {
  const wanted = find.value.trim().toLowerCase()
  return fields.value.filter(({ key }) => key.toLowerCase().includes(wanted))
})

const typeName = (type: FieldType, zoned = false): string => (zoned ? 'datetime with offset' : type)

async function readAs(key: string, nth: number): Promise<void> {
  busy.value = true
  const chosen = TYPES[nth]
  await grid.readColumn(key, chosen ? chosen.as : {})
  busy.value = false
}
</script>

<template>
  <h3>Fields and types</h3>
  <VTextField v-if="fields.length > 20" v-model="find" label="Find a field" type="search" clearable />
  <ul class="fields">
    <li v-for="field in matching.slice(0, LISTED)" :key="field.key">
      <span class="key" :title="field.key">{{ field.key }}</span>
      <ChoiceMenu
        v-if="changeable"
        :label="`Type of ${field.key}`"
        :text="field.shown"
        :choices="field.asked ? CHOICES_AND_BACK : CHOICES"
        :disabled="busy"
        @choose="readAs(field.key, $event)"
      />
      <span v-else class="soft">{{ field.shown }}</span>
      <p v-if="field.misfits && field.misfits.count > 0" class="misfits">
        {{ formatCount(field.misfits.count) }} {{ field.misfits.count === 1 ? 'disagrees' : 'disagree' }}:
        <span v-for="{ row, text } in field.misfits.examples.slice(0, 3)" :key="row" class="figure"
          >“{{ text.slice(0, 24) }}” in row {{ formatCount(row + 1) }}
        </span>
      </p>
    </li>
  </ul>
  <p v-if="matching.length > LISTED" class="soft">
    {{ formatCount(matching.length - LISTED) }} more. Type to find them.
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
