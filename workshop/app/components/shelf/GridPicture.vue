<script setup lang="ts">
import type { GridPicture } from '~/storage/saved-grid'

/** The first cells of a grid, small. */
const { picture } = defineProps<{ picture: GridPicture }>()
</script>

<template>
  <span class="picture" aria-hidden="true" :style="{ '--columns': picture.titles.length }">
    <b v-for="(title, i) in picture.titles" :key="`t${i}`" :class="{ end: picture.ends[i] }">{{ title }}</b>
    <template v-for="(row, r) in picture.rows" :key="r">
      <i v-for="(text, i) in row" :key="i" :class="{ end: picture.ends[i] }">{{ text }}</i>
    </template>
  </span>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  align-content: start;
  inline-size: 190px;
  block-size: 62px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--sheet);
  overflow: clip;
  font-size: 6.5px;
  line-height: 9px;
}
b,
i {
  font-style: normal;
  font-weight: 400;
  padding-inline: 3px;
  white-space: nowrap;
  overflow: clip;
  border-block-end: 1px solid var(--rule-soft);
}
b {
  font-weight: 600;
  background: var(--paper);
}
.end {
  text-align: end;
}
</style>
