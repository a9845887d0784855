<script setup lang="ts">
import { words } from '~/words'
import type { SavedGrid } from '~/storage/saved-grid'
import { formatCount, formatWhen } from '~/utils/format'

const { grid } = defineProps<{ grid: SavedGrid }>()
const emit = defineEmits<{ remove: []; duplicate: []; rename: [title: string]; export: [] }>()
const renaming = ref(false)
const title = ref('')

const from = computed(() => {
  const { origin } = grid
  if (origin.kind === 'none') return words.savedGridItem.noRowsYet
  if (origin.kind === 'file')
    return origin.times && origin.times > 1
      ? words.savedGridItem.madeUp(origin.name, origin.times)
      : origin.name
  if (origin.kind === 'listing') return words.savedGridItem.listedBy(origin.address)
  if (origin.kind === 'service') return words.savedGridItem.heldByAService(origin.rows)
  return origin.computed ? words.savedGridItem.computedRows : words.savedGridItem.madeUpRows
})

function startRenaming(): void {
  title.value = grid.title
  renaming.value = true
}

function rename(): void {
  if (!renaming.value) return
  renaming.value = false
  emit('rename', title.value)
}
</script>

<template>
  <li class="item">
    <GridPicture v-if="grid.picture" :picture="grid.picture" />
    <StrataMark v-else class="no-picture" :rows="grid.rows" :columns="grid.columns" />
    <span class="what">
      <input
        v-if="renaming"
        v-model="title"
        v-focus
        class="rename"
        :aria-label="words.savedGridItem.newNameOf(grid.title)"
        @blur="rename"
        @keydown.enter="rename"
        @keydown.esc="renaming = false"
      />
      <NuxtLink v-else :to="`/grid/${grid.id}`" class="name">{{ grid.title }}</NuxtLink>
      <span class="soft from">{{ from }}</span>
    </span>
    <span class="facts">
      <span class="figure">{{ formatCount(grid.rows) }} × {{ formatCount(grid.columns) }}</span>
      <span class="soft">{{ formatWhen(grid.changed) }}</span>
    </span>
    <span class="acts">
      <VBtn size="small" :aria-label="words.savedGridItem.rename(grid.title)" @click="startRenaming">{{
        words.savedGridItem.rename2
      }}</VBtn>
      <VBtn size="small" :aria-label="words.savedGridItem.duplicate(grid.title)" @click="emit('duplicate')">{{
        words.savedGridItem.duplicate2
      }}</VBtn>
      <VBtn size="small" :aria-label="words.savedGridItem.export(grid.title)" @click="emit('export')">{{
        words.savedGridItem.export2
      }}</VBtn>
      <VBtn size="small" :aria-label="words.savedGridItem.deleteWord(grid.title)" @click="emit('remove')">{{
        words.savedGridItem.deleteWord2
      }}</VBtn>
    </span>
  </li>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr) auto auto;
  align-items: center;
  gap: 18px;
  padding: 9px 14px;
}
.item + .item {
  border-block-start: 1px solid var(--rule-soft);
}
.no-picture {
  inline-size: 190px;
}
.what,
.facts {
  display: grid;
  gap: 2px;
  min-inline-size: 0;
}
.facts {
  text-align: end;
}
.name {
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.rename {
  font: 600 13px var(--font-text);
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--ink-soft);
  border-radius: 5px;
  padding: 2px 5px;
}
.from {
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.figure {
  font-size: 12px;
}
.acts {
  display: flex;
  gap: 6px;
}
@media (max-width: 900px) {
  .item {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .picture,
  .no-picture {
    display: none;
  }
  .acts {
    grid-column: 1 / -1;
    flex-wrap: wrap;
  }
}
</style>
