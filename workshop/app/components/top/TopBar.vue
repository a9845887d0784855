<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const state = computed(() => {
  if (!grid.report) return ''
  return grid.saving === 'not saved' ? 'not saved: the browser refused or has no room' : grid.saving
})
</script>

<template>
  <header class="top">
    <BrandMark />
    <div class="name">
      <h1>{{ grid.saved?.title }}</h1>
      <span class="soft" role="status">{{ state }}</span>
    </div>
    <span class="spacer" />
    <DarkToggle />
    <NuxtLink to="/" class="to-shelf">Shelf</NuxtLink>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 12px;
  padding-inline: 14px;
  border-block-end: 1px solid var(--rule);
  background: var(--panel);
}
.name {
  display: flex;
  align-items: baseline;
  gap: 10px;
  padding-inline-start: 12px;
  border-inline-start: 1px solid var(--rule);
  min-inline-size: 0;
}
h1 {
  font: 600 13.5px var(--font-text);
  letter-spacing: 0;
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.spacer {
  flex: 1;
}
.to-shelf {
  font-weight: 500;
}
</style>
