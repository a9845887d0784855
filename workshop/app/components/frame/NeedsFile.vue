<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const name = computed(() => (grid.saved?.origin.kind === 'file' ? grid.saved.origin.name : 'the file'))
</script>

<template>
  <section class="needs">
    <h2>Choose {{ name }} again</h2>
    <p class="soft">It was too large to keep in the browser. Its columns and arrangement are still here.</p>
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
