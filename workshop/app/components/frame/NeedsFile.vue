<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const file = computed(() => (grid.saved?.origin.kind === 'file' ? grid.saved.origin.name : null))
</script>

<template>
  <section class="needs">
    <template v-if="file">
      <h2>{{ words.needsFile.chooseAgain(file) }}</h2>
      <p class="soft">{{ words.needsFile.itWasTooLargeTo }}</p>
    </template>
    <template v-else>
      <h2>{{ words.needsFile.thisGridHasNoRows }}</h2>
      <p class="soft">{{ words.needsFile.itsColumnsCameWithoutRows }}</p>
    </template>
    <FileButton :label="words.needsFile.chooseTheFile" @file="grid.replaceFile($event)" />
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
