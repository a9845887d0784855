<script setup lang="ts">
import { KEPT_FILE_BYTES } from '~/storage/saved-grid'
import { formatBytes } from '~/utils/format'

const emit = defineEmits<{ file: [file: File] }>()
</script>

<template>
  <article class="card">
    <h2>A file of your own</h2>
    <p class="soft">
      Drop a CSV file anywhere on this page, or choose one. It is read here and goes nowhere else. Files up to
      {{ formatBytes(KEPT_FILE_BYTES) }} are kept with their grid.
    </p>
    <FileButton class="choose" label="Choose a CSV file" @file="emit('file', $event)" />
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
.choose {
  justify-self: start;
}
</style>
