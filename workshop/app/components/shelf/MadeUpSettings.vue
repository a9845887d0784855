<script setup lang="ts">
import { words } from '~/words'
import type { MadeUpColumn } from '~/intake/made-up-columns'

/** What a made-up column's kind wants to know, in one line. */
const column = defineModel<MadeUpColumn>({ required: true })
const { name } = defineProps<{ name: string }>()

const SPREADS = {
  number: [
    { value: 1, title: words.madeUpSettings.evenly },
    { value: 3, title: words.madeUpSettings.mostlyLow },
  ],
  pick: [
    { value: 1, title: words.madeUpSettings.evenly },
    { value: 3, title: words.madeUpSettings.mostlyTheFirst },
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
        :aria-label="words.madeUpSettings.from(name)"
        type="number"
        step="any"
      />
      <span>{{ words.madeUpSettings.toWord }}</span>
      <VTextField
        v-model.number="column.to"
        class="few"
        :aria-label="words.madeUpSettings.toWord2(name)"
        type="number"
        step="any"
      />
      <VTextField
        v-model.number="column.decimals"
        class="least"
        :aria-label="words.madeUpSettings.decimals(name)"
        type="number"
        min="0"
        max="15"
      />
      <span>{{ words.madeUpSettings.decimals2 }}</span>
    </template>
    <template v-else-if="column.kind === 'date' || column.kind === 'time'">
      <VTextField
        v-model="column.first"
        class="day"
        :aria-label="words.madeUpSettings.from(name)"
        type="date"
      />
      <span>{{ words.madeUpSettings.toWord }}</span>
      <VTextField
        v-model="column.last"
        class="day"
        :aria-label="words.madeUpSettings.toWord2(name)"
        type="date"
      />
    </template>
    <template v-else-if="column.kind === 'yes-no'">
      <VTextField
        v-model.number="column.yes"
        class="least"
        :aria-label="words.madeUpSettings.yesOf100(name)"
        type="number"
        min="0"
        max="100"
      />
      <span>{{ words.madeUpSettings.of100AreYes }}</span>
    </template>
    <VTextField
      v-else-if="column.kind === 'pick' || column.kind === 'remark'"
      v-model="column.texts"
      class="wide"
      :aria-label="words.madeUpSettings.partedByCommas(name, column.kind === 'pick' ? 'texts' : 'words')"
    />
    <span v-else>{{ words.madeUpSettings.n123AndSo }}</span>
    <VSelect
      v-if="column.kind === 'number' || column.kind === 'pick'"
      v-model="column.lean"
      class="spread"
      :aria-label="words.madeUpSettings.spread(name)"
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
