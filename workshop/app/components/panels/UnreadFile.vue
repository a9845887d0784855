<script setup lang="ts">
import { words } from '~/words'
import type { ReadOptions } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { DELIMITER_CHOICES, ENCODING_CHOICES, FORMAT_CHOICES } from '~/utils/reading-choices'

/** A file that could not be read as it was: how else it may be read. */
const { options } = defineProps<{ options: ReadOptions }>()
const grid = useOpenGrid()
const id = useId()

const FOUND_OUT = { value: '', title: words.unreadFile.foundOut }
const choices = [
  { option: 'format', label: words.fileReading.format, items: FORMAT_CHOICES },
  { option: 'encoding', label: words.fileReading.encoding, items: ENCODING_CHOICES },
  { option: 'delimiter', label: words.fileReading.fieldsArePartedBy, items: DELIMITER_CHOICES },
] as const

const read = (option: (typeof choices)[number]['option'], value: unknown): Promise<void> =>
  grid.read(option, { [option]: value === '' ? undefined : value })
</script>

<template>
  <section>
    <h2>{{ words.sourcePanel.source }}</h2>
    <p class="lead">{{ words.unreadFile.asItWasTaken }}</p>
    <h3 :id="id">{{ words.fileReading.readAs }}</h3>
    <div class="fields" role="group" :aria-labelledby="id">
      <VSelect
        v-for="{ option, label, items } in choices"
        :key="option"
        :label="label"
        :items="[FOUND_OUT, ...items]"
        :model-value="options[option] ?? ''"
        @update:model-value="read(option, $event)"
      />
    </div>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 10px;
  margin-block-start: 10px;
}
</style>
