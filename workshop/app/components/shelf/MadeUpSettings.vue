<script setup lang="ts">
import type { MadeUpColumn } from '~/intake/made-up-columns'

/** What a made-up column's kind wants to know, in one line. */
const column = defineModel<MadeUpColumn>({ required: true })
const { name } = defineProps<{ name: string }>()

const SPREADS = {
  number: [
    { value: 1, title: 'evenly' },
    { value: 3, title: 'mostly low' },
  ],
  pick: [
    { value: 1, title: 'evenly' },
    { value: 3, title: 'mostly the first' },
  ],
}
const spreads = computed(() => (column.value.kind === 'pick' ? SPREADS.pick : SPREADS.number))
</script>

<template>
  <div class="settings">
    <template v-if="column.kind === 'number'">
      <VTextField
        v-model.number="column.from"
        class="few"
        :aria-label="`${name}: from`"
        type="number"
        step="any"
      />
      <span>to</span>
      <VTextField
        v-model.number="column.to"
        class="few"
        :aria-label="`${name}: to`"
        type="number"
        step="any"
      />
      <VTextField
        v-model.number="column.decimals"
        class="least"
        :aria-label="`${name}: decimals`"
        type="number"
        min="0"
        max="15"
      />
      <span>decimals,</span>
    </template>
    <template v-else-if="column.kind === 'date' || column.kind === 'time'">
      <VTextField v-model="column.first" class="day" :aria-label="`${name}: from`" type="date" />
      <span>to</span>
      <VTextField v-model="column.last" class="day" :aria-label="`${name}: to`" type="date" />
    </template>
    <template v-else-if="column.kind === 'yes-no'">
      <VTextField
        v-model.number="column.yes"
        class="least"
        :aria-label="`${name}: yes, of 100`"
        type="number"
        min="0"
        max="100"
      />
      <span>of 100 are yes</span>
    </template>
    <VTextField
      v-else-if="column.kind === 'pick' || column.kind === 'remark'"
      v-model="column.texts"
      class="wide"
      :aria-label="`${name}: ${column.kind === 'pick' ? 'texts' : 'words'}, parted by commas`"
    />
    <span v-else>1, 2, 3 and so on</span>
    <VSelect
      v-if="column.kind === 'number' || column.kind === 'pick'"
      v-model="column.lean"
      class="spread"
      :aria-label="`${name}: spread`"
      :items="spreads"
    />
  </div>
</template>

<style scoped>
.settings {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  color: var(--ink-soft);
  font-size: 13px;
}
.settings > :deep(.v-input) {
  flex: none;
  color: var(--ink);
}
.few {
  inline-size: 76px;
}
.least {
  inline-size: 58px;
}
.day {
  inline-size: 148px;
}
.spread {
  inline-size: 136px;
}
.settings > .wide {
  flex: 1 1 160px;
}
</style>
