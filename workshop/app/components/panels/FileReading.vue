<script setup lang="ts">
import { words } from '~/words'
import type { Encoding, FileFormat, ReadReport } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { DELIMITER_CHOICES, ENCODING_CHOICES, FORMAT_CHOICES } from '~/utils/reading-choices'

/** How the file was read, each part of it changeable. */
const { reading } = defineProps<{ reading: ReadReport }>()
const grid = useOpenGrid()
const id = useId()
const busy = ref(false)

const delimiters = computed(() => {
  const own = reading.csv?.delimiter ?? ','
  return DELIMITER_CHOICES.some(({ value }) => value === own)
    ? DELIMITER_CHOICES
    : [...DELIMITER_CHOICES, { value: own, title: `“${own}”` }]
})
const lists = computed(() =>
  (reading.json?.lists ?? []).map(({ path, length }) => ({ value: path, title: `${path} (${length})` })),
)

async function read(name: string, change: Parameters<typeof grid.read>[1]): Promise<void> {
  busy.value = true
  await grid.read(name, change)
  busy.value = false
}
</script>

<template>
  <h3 :id="id">{{ words.fileReading.readAs }}</h3>
  <div class="fields" role="group" :aria-labelledby="id">
    <VSelect
      :label="words.fileReading.format"
      :items="FORMAT_CHOICES"
      :model-value="reading.format"
      :disabled="busy"
      @update:model-value="read(words.changeName.format, { format: $event as FileFormat })"
    />
    <VSelect
      v-if="reading.encoding"
      :label="words.fileReading.encoding"
      :items="ENCODING_CHOICES"
      :model-value="reading.encoding"
      :disabled="busy"
      @update:model-value="read(words.changeName.encoding, { encoding: $event as Encoding })"
    />
    <template v-if="reading.csv">
      <VSelect
        :label="words.fileReading.fieldsArePartedBy"
        :items="delimiters"
        :model-value="reading.csv.delimiter"
        :disabled="busy"
        @update:model-value="read(words.changeName.delimiter, { delimiter: $event as string })"
      />
      <VTextField
        :label="words.fileReading.linesOfCommentBeginWith"
        :model-value="reading.csv.comment ?? ''"
        maxlength="1"
        :placeholder="words.fileReading.none"
        :disabled="busy"
        @change="read(words.changeName.comment, { comment: ($event.target as HTMLInputElement).value })"
      />
      <VCheckbox
        :label="words.fileReading.theFirstLineNamesThe"
        :model-value="reading.csv.header"
        :disabled="busy"
        @update:model-value="read(words.changeName.header, { header: $event === true })"
      />
    </template>
    <template v-if="reading.json">
      <VSelect
        v-if="lists.length > 0"
        :label="words.fileReading.rowsLieAt"
        :items="lists"
        :model-value="reading.json.rowsPath"
        :disabled="busy"
        @update:model-value="read(words.fileReading.placeOfRows, { rowsPath: $event as string })"
      />
      <dl v-if="reading.json.beside.length > 0" class="beside" :aria-label="words.fileReading.besideTheRows">
        <div v-for="{ path, text } in reading.json.beside.slice(0, 8)" :key="path">
          <dt>{{ path }}</dt>
          <dd class="figure">{{ text }}</dd>
        </div>
      </dl>
    </template>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 10px;
  margin-block-start: 10px;
}
.beside {
  margin: 0;
  display: grid;
  gap: 2px;
}
.beside div {
  display: flex;
  gap: 12px;
  min-inline-size: 0;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  margin-inline-start: auto;
  font-size: 12px;
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
