<script setup lang="ts">
import { words } from '~/words'
import { useFindings } from '~/stores/findings'
import { useOpenGrid } from '~/stores/open-grid'

/** Fields that would name every row, each to be taken as the key. */
const MOST = 3
const grid = useOpenGrid()
const found = useFindings()

const proposals = computed(() =>
  found.proposedKeys
    .filter(({ fields }) => JSON.stringify(fields) !== JSON.stringify(grid.definition?.key))
    .slice(0, MOST),
)
const choose = (key: readonly string[]): Promise<void> =>
  grid.define(words.changeName.key, { ...grid.now.definition, key: [...key] })
</script>

<template>
  <p v-if="proposals.length > 0" class="proposals">
    <span class="soft">{{ words.rowKey.wouldDo }}</span>
    <VBtn
      v-for="{ fields: proposed } in proposals"
      :key="proposed.join()"
      size="small"
      @click="choose(proposed)"
      >{{ proposed.join(', ') }}</VBtn
    >
  </p>
</template>

<style scoped>
.proposals {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-block: 6px;
}
</style>
