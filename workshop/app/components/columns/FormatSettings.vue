<script setup lang="ts">
import { words } from '~/words'
import { DATE_STYLES, NUMBER_STYLES, type ColumnDefinition, type Field } from '@vast-meadow/engine'
import { said } from '~/utils/said'

/** How a column's values are written; only what its type has a use for. */
const { column, field } = defineProps<{ column: ColumnDefinition; field: Field | null }>()
const emit = defineEmits<{ set: [format: ColumnDefinition['format']] }>()

const type = computed(() => field?.type ?? 'text')
const numeric = computed(() => type.value === 'integer' || type.value === 'number')
const dated = computed(() => type.value === 'date' || type.value === 'datetime' || type.value === 'time')
const UNITS = [
  'percent',
  'gram',
  'kilogram',
  'millimeter',
  'centimeter',
  'meter',
  'kilometer',
  'hectare',
  'liter',
  'celsius',
  'kilometer-per-hour',
  'second',
  'minute',
  'hour',
  'day',
  'year',
  'byte',
  'kilobyte',
  'megabyte',
]
const CURRENCIES = ['EUR', 'GBP', 'USD', 'CHF', 'JPY', 'SEK', 'PLN', 'INR', 'BRL']

/** Settings that are taken away are left out, not kept as empty ones. */
function set(change: ColumnDefinition['format']): void {
  emit('set', said({ ...column.format, ...change }))
}

function setDecimals(text: string): void {
  const decimals = text.trim() === '' ? undefined : Number(text)
  if (decimals === undefined || (Number.isInteger(decimals) && decimals >= 0 && decimals <= 15))
    set({ decimals })
}

function setStyle(number: (typeof NUMBER_STYLES)[number]): void {
  set({
    number,
    currency: number === 'currency' ? (column.format.currency ?? 'EUR') : undefined,
    unit: number === 'unit' ? (column.format.unit ?? 'meter') : undefined,
  })
}
</script>

<template>
  <template v-if="numeric || dated || type === 'boolean'">
    <h3>{{ words.formatSettings.format }}</h3>
    <div class="fields">
      <template v-if="numeric">
        <VSelect
          :model-value="column.format.number ?? 'plain'"
          :items="NUMBER_STYLES"
          :label="words.formatSettings.numbers"
          @update:model-value="setStyle($event)"
        />
        <VTextField
          type="number"
          :model-value="column.format.decimals ?? ''"
          :placeholder="String(field?.decimals ?? 0)"
          persistent-placeholder
          :label="words.formatSettings.decimals"
          @change="setDecimals($event.target.value)"
        />
        <VAutocomplete
          v-if="column.format.number === 'currency'"
          :model-value="column.format.currency ?? 'EUR'"
          :items="CURRENCIES"
          :label="words.formatSettings.currency"
          @update:model-value="$event && set({ currency: $event })"
        />
        <VAutocomplete
          v-if="column.format.number === 'unit'"
          :model-value="column.format.unit ?? 'meter'"
          :items="UNITS"
          :label="words.formatSettings.unit"
          @update:model-value="$event && set({ unit: $event })"
        />
      </template>
      <template v-if="dated">
        <VSelect
          :model-value="column.format.date ?? 'iso'"
          :items="DATE_STYLES"
          :label="words.formatSettings.dates"
          @update:model-value="set({ date: $event })"
        />
        <VTextField
          v-if="type === 'datetime' && field?.zoned"
          :model-value="column.format.zone ?? ''"
          :label="words.formatSettings.zone"
          :placeholder="words.formatSettings.utc"
          @change="set({ zone: $event.target.value || undefined })"
        />
      </template>
      <template v-if="type === 'boolean'">
        <VTextField
          :model-value="column.format.yes ?? ''"
          :label="words.formatSettings.forYes"
          :placeholder="words.formatSettings.yes"
          @change="set({ yes: $event.target.value || undefined })"
        />
        <VTextField
          :model-value="column.format.no ?? ''"
          :label="words.formatSettings.forNo"
          :placeholder="words.formatSettings.no"
          @change="set({ no: $event.target.value || undefined })"
        />
      </template>
      <VTextField
        :model-value="column.format.locale ?? ''"
        :label="words.formatSettings.locale"
        :placeholder="words.formatSettings.enGb"
        @change="set({ locale: $event.target.value || undefined })"
      />
    </div>
  </template>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 8px;
  padding-block-start: 5px;
}
</style>
