<script setup lang="ts">
import { searchWords, shownColumns } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount, formatMs } from '~/utils/format'

const grid = useOpenGrid()
const stage = computed(() => grid.report?.stages.find(stage => stage.stage === 'search'))
const able = computed(() => grid.description?.can.search ?? false)
const words = computed(() => searchWords(grid.arrangement?.search ?? ''))
const columns = computed(() => {
  if (!grid.arrangement) return 0
  const { start, middle, end } = shownColumns(grid.arrangement)
  return start.length + middle.length + end.length
})
</script>

<template>
  <section>
    <h2>Search</h2>
    <p v-if="!able" class="lead">These rows are computed one by one; they cannot be searched.</p>
    <template v-else>
      <p class="lead">
        {{ formatCount(stage?.rowsOut ?? 0) }} of {{ formatCount(stage?.rowsIn ?? 0) }} rows are found.
      </p>
      <VTextField
        :model-value="grid.arrangement?.search"
        label="Search rows"
        type="search"
        clearable
        @update:model-value="grid.change({ search: $event ?? '' })"
      />
      <p class="about soft">
        Each word must stand somewhere in the row’s shown text; “double quotes” hold words together. Case and
        accents do not matter. It looks in the {{ formatCount(columns) }} columns that are shown.
      </p>
      <div v-if="words.length > 0" class="box">
        <div class="row">
          <b>Words</b><span class="push figure">{{ stage?.fresh ? formatMs(stage.ms) : 'kept' }}</span>
        </div>
        <div class="words">
          <code v-for="word in words" :key="word">{{ word }}</code>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.about {
  margin-block: 10px 14px;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-block-start: 8px;
}
.words code {
  background: var(--straw-tint);
  border-radius: 4px;
  padding: 1px 6px;
  font-size: 12px;
}
</style>
