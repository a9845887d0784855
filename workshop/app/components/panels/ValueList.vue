<script setup lang="ts">
import type { Value, ValueCount } from '@vast-meadow/engine'
import { formatCount } from '~/utils/format'

const { values, distinct, chosen } = defineProps<{
  values: readonly ValueCount[]
  distinct: number
  chosen: ReadonlySet<Value>
}>()
const emit = defineEmits<{ choose: [value: string | number | boolean, on: boolean] }>()

const most = computed(() => values[0]?.count ?? 1)
</script>

<template>
  <ul class="values">
    <li
      v-for="entry in values"
      :key="String(entry.value)"
      :class="{ off: chosen.size > 0 && !chosen.has(entry.value) }"
    >
      <label>
        <input
          type="checkbox"
          :checked="chosen.has(entry.value)"
          @change="emit('choose', entry.value!, ($event.target as HTMLInputElement).checked)"
        />
        <span class="shown">{{ entry.shown }}</span>
        <span class="bar"><i :style="{ inlineSize: `${(100 * entry.count) / most}%` }" /></span>
        <span class="figure">{{ formatCount(entry.count) }}</span>
      </label>
    </li>
    <li v-if="distinct > values.length" class="soft more">
      {{ formatCount(distinct - values.length) }} more values
    </li>
  </ul>
</template>

<style scoped>
.values {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
label {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) 60px 62px;
  align-items: center;
  gap: 7px;
  block-size: 24px;
  cursor: pointer;
}
input {
  accent-color: var(--moss);
  margin: 0;
  inline-size: 15px;
  block-size: 15px;
}
.shown {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar {
  block-size: 6px;
  background: var(--rule-soft);
  border-radius: 3px;
  overflow: clip;
}
.bar i {
  display: block;
  block-size: 100%;
  background: var(--moss);
  border-radius: 3px;
}
.off .bar i {
  background: var(--bar-idle);
}
.figure {
  font-size: 11px;
  text-align: end;
}
.more {
  padding-block-start: 4px;
  font-size: 12px;
}
</style>
