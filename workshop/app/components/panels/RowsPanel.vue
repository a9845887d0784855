<script setup lang="ts">
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
const key = ref('')
const answer = ref('')

const keyName = computed(() => {
  const fields = grid.definition?.key ?? []
  return fields.length > 0 ? fields.map(field => grid.titleOf(field)).join(', ') : 'Row number, from 0'
})

async function go(): Promise<void> {
  const mounted = grid.handle
  if (!mounted || key.value.trim() === '') return
  const typed = key.value.trim()
  const several = (grid.definition?.key.length ?? 0) > 1
  const found = await mounted.scrollTo(several ? typed.split(',').map(part => part.trim()) : typed)
  answer.value = found ? '' : `No row with ${keyName.value} ${key.value} is among those that pass.`
}
</script>

<template>
  <section>
    <h2>Rows</h2>
    <p class="lead">
      {{ formatCount(grid.report?.passing ?? 0) }} rows pass, {{ formatCount(grid.report?.total ?? 0) }} in
      all. Only those in view are drawn.
    </p>
    <form class="row" @submit.prevent="go">
      <VTextField v-model="key" :label="keyName" />
      <VBtn type="submit">Go to it</VBtn>
    </form>
    <p v-if="answer" class="held answer" role="status">{{ answer }}</p>
    <h3>Selection</h3>
    <p class="soft">
      {{
        grid.selected === 0
          ? 'Nothing is selected. Tick rows, or click one; Shift takes a range.'
          : `${formatCount(grid.selected)} rows are selected.`
      }}
    </p>
    <VBtn v-if="grid.selected > 0" class="clear" size="small" @click="grid.handle?.clearSelection()"
      >Clear the selection</VBtn
    >
  </section>
</template>

<style scoped>
.answer {
  margin-block-start: 8px;
}
.clear {
  margin-block-start: 8px;
}
</style>
