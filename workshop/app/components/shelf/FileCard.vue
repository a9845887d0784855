<script setup lang="ts">
import { KEPT_FILE_BYTES } from '~/storage/saved-grid'
import { formatBytes } from '~/utils/format'

const emit = defineEmits<{ file: [file: File]; paste: []; address: []; 'made-up': [] }>()
</script>

<template>
  <article class="card">
    <h2>Rows of your own</h2>
    <p class="soft">
      Drop a file anywhere on this page, or paste cells: CSV, TSV, JSON, NDJSON, Arrow or Parquet, also packed
      with gzip, and grids that were exported. Files are read here and go nowhere else; those up to
      {{ formatBytes(KEPT_FILE_BYTES) }} are kept with their grid.
    </p>
    <div class="ways">
      <FileButton label="Choose a file" @file="emit('file', $event)" />
      <VBtn @click="emit('paste')">Paste rows</VBtn>
      <VBtn @click="emit('address')">From an address</VBtn>
      <VBtn @click="emit('made-up')">Make rows up</VBtn>
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
