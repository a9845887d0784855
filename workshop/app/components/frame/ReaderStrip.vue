<script setup lang="ts">
import { words } from '~/words/english'
import { useOpenGrid } from '~/stores/open-grid'

/** In Use: whether this reader arranged anything, and the ways back to the start or on from it. */
const grid = useOpenGrid()
</script>

<template>
  <div class="reader">
    <span class="soft" role="status">{{
      grid.readerDiffers
        ? words.readerStrip.arrangedOtherwiseThanReadersStart
        : words.readerStrip.asReadersStart
    }}</span>
    <VBtn size="small" :disabled="!grid.readerDiffers" @click="grid.backToStart()">{{
      words.readerStrip.backToTheStart
    }}</VBtn>
    <VBtn size="small" :disabled="!grid.readerDiffers" @click="grid.takeAsStart()">{{
      words.readerStrip.takeThisAsTheStart
    }}</VBtn>
  </div>
</template>

<style scoped>
.reader {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 8px;
  padding-block-end: 8px;
}
</style>
