<script setup lang="ts">
import type { FieldType, Value } from '@vast-meadow/engine'

const { type, title, low, high, from, to, show } = defineProps<{
  type: FieldType
  title: string
  low: number
  high: number
  from?: number
  to?: number
  show: (value: Value) => string
}>()
const emit = defineEmits<{ change: [from: number | undefined, to: number | undefined] }>()

const DAY_MS = 86_400_000
const isTime = computed(() => type === 'date' || type === 'datetime')
const unit = computed(() => (type === 'date' ? DAY_MS : 1))

/** Dates are typed as ISO days; the engine counts days, or milliseconds. */
function written(value: number | undefined): string {
  if (value === undefined) return ''
  return isTime.value ? new Date(value * unit.value).toISOString().slice(0, 10) : String(value)
}

function read(text: string, endOfDay: boolean): number | undefined {
  if (text.trim() === '') return undefined
  if (!isTime.value) {
    const value = Number(text)
    return Number.isFinite(value) ? value : undefined
  }
  const ms = Date.parse(`${text}T00:00:00Z`)
  if (Number.isNaN(ms)) return undefined
  return type === 'date' ? ms / DAY_MS : ms + (endOfDay ? DAY_MS - 1 : 0)
}
</script>

<template>
  <div class="fields">
    <VTextField
      :model-value="written(from)"
      :label="`${title} from`"
      :type="isTime ? 'date' : 'number'"
      :placeholder="show(low)"
      persistent-placeholder
      @change="emit('change', read($event.target.value, false), to)"
    />
    <VTextField
      :model-value="written(to)"
      :label="`${title} to`"
      :type="isTime ? 'date' : 'number'"
      :placeholder="show(high)"
      persistent-placeholder
      @change="emit('change', from, read($event.target.value, true))"
    />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-block-start: 10px;
}
</style>
