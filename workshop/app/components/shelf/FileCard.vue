<script setup lang="ts">
import { words } from '~/words'
import { KEPT_FILE_BYTES } from '~/storage/saved-grid'
import { formatBytes } from '~/utils/format'

const emit = defineEmits<{ file: [file: File]; paste: []; address: []; 'made-up': [] }>()
</script>

<template>
  <article class="card">
    <h2>{{ words.fileCard.rowsOfYourOwn }}</h2>
    <p class="soft">
      {{ words.fileCard.dropAFileAnywhereOn(formatBytes(KEPT_FILE_BYTES)) }}
    </p>
    <div class="ways">
      <FileButton :label="words.fileCard.chooseAFile" @file="emit('file', $event)" />
      <VBtn @click="emit('paste')">{{ words.fileCard.pasteRows }}</VBtn>
      <VBtn @click="emit('address')">{{ words.fileCard.fromAnAddress }}</VBtn>
      <VBtn @click="emit('made-up')">{{ words.fileCard.makeRowsUp }}</VBtn>
    </div>
  </article>
</template>

<style scoped>
.card {
  border: 1.5px dashed var(--rule);
  border-radius: var(--radius);
  padding: 14px 16px;
  display: grid;
  gap: 6px;
  grid-template-rows: auto 1fr auto;
  grid-column: 1 / -1;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
