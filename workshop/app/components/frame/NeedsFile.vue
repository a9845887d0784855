<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const file = computed(() => (grid.saved?.origin.kind === 'file' ? grid.saved.origin.name : null))
</script>

<template>
  <section class="needs">
    <template v-if="file">
      <h2>Choose {{ file }} again</h2>
      <p class="soft">It was too large to keep in the browser. Its columns and arrangement are still here.</p>
    </template>
    <template v-else>
      <h2>This grid has no rows yet</h2>
      <p class="soft">Its columns came without rows. Give it a file that has them.</p>
    </template>
    <FileButton label="Choose the file" @file="grid.replaceFile($event)" />
  </section>
</template>

<style scoped>
.needs {
  block-size: 100%;
  display: grid;
  place-content: center;
  justify-items: center;
  gap: 10px;
  text-align: center;
}
</style>
