<script setup lang="ts">
import { useFindings } from '~/stores/findings'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** The fields that name a row, and whether they do. */
const grid = useOpenGrid()
const found = useFindings()

const fields = computed(() => grid.ownFields.map(field => field.key))
const state = computed(() => {
  if (!grid.definition || grid.definition.key.length === 0)
    return 'Without a key, rows are named by their position.'
  const { key } = found
  if (!key) return ''
  if (key.unique) return 'Names every row, and no two alike.'
  const parts = []
  if (key.missing > 0) parts.push(`${formatCount(key.missing)} rows have none`)
  if (key.doubled > 0) parts.push(`${formatCount(key.doubled)} have that of another`)
  return `Does not name every row: ${parts.join(', ')}.`
})
const broken = computed(() => found.key !== null && !found.key.unique)
const proposals = computed(() =>
  found.proposedKeys
    .filter(({ fields }) => JSON.stringify(fields) !== JSON.stringify(grid.definition?.key))
    .slice(0, 3),
)

const choose = (key: readonly string[]): Promise<void> =>
  grid.define('key', { ...grid.now.definition, key: [...key] })
</script>

<template>
  <template v-if="grid.description?.can.commit === true && grid.definition">
    <h3>Row key</h3>
    <VAutocomplete
      class="key"
      label="Fields that name a row"
      multiple
      chips
      closable-chips
      :items="fields"
      :model-value="grid.definition.key"
      @update:model-value="choose"
    />
    <p class="soft" :class="{ held: broken }" role="status">{{ state }}</p>
    <p v-if="proposals.length > 0" class="proposals">
      <span class="soft">Would do:</span>
      <VBtn
        v-for="{ fields: proposed } in proposals"
        :key="proposed.join()"
        size="small"
        @click="choose(proposed)"
        >{{ proposed.join(', ') }}</VBtn
      >
    </p>
  </template>
</template>

<style scoped>
.key {
  margin-block: 10px 4px;
}
.proposals {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-block-start: 6px;
}
</style>
