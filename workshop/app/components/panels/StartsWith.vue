<script setup lang="ts">
import { arrangementFor, type Arrangement } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** What readers start with in one respect, apart from what is arranged now; each becomes the other by an act of its own. */
const { keys, say } = defineProps<{
  keys: readonly (keyof Arrangement)[]
  /** Sums up what an arrangement has in this respect. */
  say: (arrangement: Arrangement) => string
}>()
const grid = useOpenGrid()

const started = computed(() => grid.definition && arrangementFor(grid.definition))
const differs = computed(() => {
  const { arrangement } = grid
  const { value: start } = started
  return (
    start && arrangement && keys.some(key => JSON.stringify(start[key]) !== JSON.stringify(arrangement[key]))
  )
})

const pick = (from: Arrangement): Partial<Arrangement> =>
  Object.fromEntries(keys.map(key => [key, from[key]])) as Partial<Arrangement>

async function keep(): Promise<void> {
  const { definition, arrangement } = grid
  if (!definition || !arrangement) return
  await grid.define('starting arrangement', {
    ...definition,
    start: { ...definition.start, ...pick(arrangement) },
  })
}

const back = (): void => void (started.value && grid.change(pick(started.value)))
</script>

<template>
  <h3>Readers start with</h3>
  <div v-if="started" class="box start">
    <p>{{ say(started) }}</p>
    <div class="row">
      <VBtn size="small" :disabled="!differs" @click="keep">Start with what is arranged now</VBtn>
      <VBtn size="small" :disabled="!differs" @click="back">Arrange as they start</VBtn>
    </div>
  </div>
</template>

<style scoped>
.start p {
  margin-block-end: 8px;
  overflow-wrap: anywhere;
}
.start .row {
  flex-wrap: wrap;
}
</style>
