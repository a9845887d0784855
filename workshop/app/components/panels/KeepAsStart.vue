<script setup lang="ts">
import { arrangementFor } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** Makes what is arranged now what readers start with, by an act of its own. */
const grid = useOpenGrid()
const differs = computed(() => {
  const { definition, arrangement } = grid
  return (
    definition && arrangement && JSON.stringify(arrangementFor(definition)) !== JSON.stringify(arrangement)
  )
})
</script>

<template>
  <div class="keep">
    <VBtn :disabled="!differs" @click="grid.keepAsStart()">Keep as starting arrangement</VBtn>
    <p class="soft">
      {{ differs ? 'Readers start otherwise than this.' : 'Readers start with what is arranged here.' }}
    </p>
  </div>
</template>

<style scoped>
.keep {
  margin-block-start: 18px;
  display: grid;
  gap: 4px;
  justify-items: start;
}
</style>
