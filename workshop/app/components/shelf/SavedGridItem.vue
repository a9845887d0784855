<script setup lang="ts">
import type { SavedGrid } from '~/storage/saved-grid'
import { formatCount, formatWhen } from '~/utils/format'

const { grid } = defineProps<{ grid: SavedGrid }>()
const emit = defineEmits<{ remove: [] }>()
const confirming = ref(false)

const from = computed(() => {
  const { origin } = grid
  if (origin.kind === 'file') return origin.name
  return origin.computed ? 'computed rows' : 'made-up rows'
})
</script>

<template>
  <li class="item">
    <NuxtLink :to="`/grid/${grid.id}`" class="name">{{ grid.title }}</NuxtLink>
    <span class="soft">{{ from }}</span>
    <span class="figure">{{ formatCount(grid.rows) }} × {{ formatCount(grid.columns) }}</span>
    <span class="soft when">{{ formatWhen(grid.changed) }}</span>
    <span v-if="confirming" class="confirm">
      <VBtn size="small" color="error" @click="emit('remove')">Delete it</VBtn>
      <VBtn size="small" @click="confirming = false">Keep it</VBtn>
    </span>
    <VBtn v-else size="small" :aria-label="`Delete ${grid.title}`" @click="confirming = true">Delete</VBtn>
  </li>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: 1.4fr 1fr 160px 104px auto;
  align-items: center;
  gap: 16px;
  padding: 9px 14px;
}
.item + .item {
  border-block-start: 1px solid var(--rule-soft);
}
.name {
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.figure {
  font-size: 12px;
}
.confirm {
  display: flex;
  gap: 6px;
}
@media (max-width: 640px) {
  .item {
    grid-template-columns: 1fr auto;
  }
  .when {
    display: none;
  }
}
</style>
