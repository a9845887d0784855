<script setup lang="ts">
import { words } from '~/words/english'
import {
  ENCODING_NAMES,
  ENCODINGS,
  FILE_FORMATS,
  FORMAT_NAMES,
  type Encoding,
  type FileFormat,
  type ReadOptions,
} from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** A file that could not be read as it was: how else it may be read. */
const { options } = defineProps<{ options: ReadOptions }>()
const grid = useOpenGrid()
const id = useId()

const FOUND_OUT = { value: '', title: words.unreadFile.foundOut }
const formats = [FOUND_OUT, ...FILE_FORMATS.map(value => ({ value, title: FORMAT_NAMES[value] }))]
const encodings = [FOUND_OUT, ...ENCODINGS.map(value => ({ value, title: ENCODING_NAMES[value] }))]
const delimiters = [
  FOUND_OUT,
  { value: ',', title: words.fileReading.comma },
  { value: ';', title: words.fileReading.semicolon },
  { value: '\t', title: words.fileReading.tab },
  { value: '|', title: words.fileReading.bar },
]
</script>

<template>
  <section>
    <h2>{{ words.sourcePanel.source }}</h2>
    <p class="lead">{{ grid.problem }}</p>
    <h3 :id="id">{{ words.fileReading.readAs }}</h3>
    <div class="fields" role="group" :aria-labelledby="id">
      <VSelect
        :label="words.fileReading.format"
        :items="formats"
        :model-value="options.format ?? ''"
        @update:model-value="
          grid.read('format', { format: $event === '' ? undefined : ($event as FileFormat) })
        "
      />
      <VSelect
        :label="words.fileReading.encoding"
        :items="encodings"
        :model-value="options.encoding ?? ''"
        @update:model-value="
          grid.read('encoding', { encoding: $event === '' ? undefined : ($event as Encoding) })
        "
      />
      <VSelect
        :label="words.fileReading.fieldsArePartedBy"
        :items="delimiters"
        :model-value="options.delimiter ?? ''"
        @update:model-value="grid.read('delimiter', { delimiter: ($event as string) || undefined })"
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
