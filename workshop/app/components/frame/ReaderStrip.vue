<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'

/** In Use: what this reader arranged otherwise, and the ways back to the start or on from it. */
const grid = useOpenGrid()

/** What differs, a sentence each; the grid words it, and puts it back. */
const differences = computed(() => (grid.arrangement && grid.handle?.differences) || [])
</script>

<template>
  <div class="reader">
    <span class="soft" role="status">{{
      grid.readerDiffers
        ? words.readerStrip.arrangedOtherwiseThanReadersStart
        : words.readerStrip.asReadersStart
    }}</span>
    <VMenu v-if="differences.length > 0" :close-on-content-click="false">
      <template #activator="{ props }">
        <VBtn size="small" v-bind="props">{{ words.readerStrip.whatDiffers(differences.length) }}</VBtn>
      </template>
      <ul class="differs">
        <li v-for="one in differences" :key="one.text">
          <span>{{ one.text }}</span>
          <VBtn size="small" :aria-label="words.readerStrip.putBackOf(one.text)" @click="one.putBack()">{{
            words.readerStrip.putBack
          }}</VBtn>
        </li>
      </ul>
    </VMenu>
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
.differs {
  list-style: none;
  margin: 0;
  display: grid;
  gap: 4px;
  max-inline-size: 420px;
  max-block-size: 360px;
  overflow: auto;
  padding: 8px 12px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  box-shadow: 0 16px 40px -18px #0009;
}
.differs li {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
}
</style>
