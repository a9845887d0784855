<script setup lang="ts">
import { words } from '~/words'
import { useFindings } from '~/stores/findings'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** The fields that name a row, and whether they do. */
const grid = useOpenGrid()
const found = useFindings()

const fields = computed(() => grid.ownFields.map(field => field.key))
const state = computed(() => {
  if (!grid.definition || grid.definition.key.length === 0) return words.rowKey.withoutAKeyRowsAre
  const { key } = found
  if (!key) return ''
  if (key.unique) return words.rowKey.namesEveryRowAndNo
  const parts = []
  if (key.missing > 0) parts.push(words.rowKey.rowsHaveNone(formatCount(key.missing)))
  if (key.doubled > 0) parts.push(words.rowKey.haveThatOfAnother(formatCount(key.doubled)))
  return words.rowKey.notEvery(parts.join(', '))
})
const broken = computed(() => found.key !== null && !found.key.unique)
const choose = (key: readonly string[]): Promise<void> =>
  grid.define(words.changeName.key, { ...grid.now.definition, key: [...key] })
</script>

<template>
  <template v-if="grid.description?.can.commit === true && grid.definition">
    <h3>{{ words.rowKey.rowKey }}</h3>
    <VAutocomplete
      class="key"
      :label="words.rowKey.fieldsThatNameARow"
      multiple
      chips
      closable-chips
      :items="fields"
      :model-value="grid.definition.key"
      @update:model-value="choose"
    />
    <p class="soft" :class="{ held: broken }" role="status">{{ state }}</p>
    <KeyProposals />
  </template>
</template>

<style scoped>
.key {
  margin-block: 10px 4px;
}
</style>
