<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount, formatPassing } from '~/utils/format'

const grid = useOpenGrid()
const key = ref('')
const answer = ref('')

const keyName = computed(() => {
  const fields = grid.definition?.key ?? []
  return fields.length > 0
    ? fields.map(field => grid.titleOf(field)).join(', ')
    : words.rowsPanel.rowNumberFrom0
})

async function go(): Promise<void> {
  const mounted = grid.handle
  if (!mounted || key.value.trim() === '') return
  const typed = key.value.trim()
  const several = (grid.definition?.key.length ?? 0) > 1
  const found = await mounted.scrollTo(several ? typed.split(',').map(part => part.trim()) : typed)
  answer.value = found ? '' : words.rowsPanel.noRowWithIsAmong(keyName.value, key.value)
}

/** Controls are costly to make: they come group by group. */
const stage = useStages(3)
</script>

<template>
  <section>
    <h2>{{ words.rowsPanel.rows }}</h2>
    <p class="lead">
      {{
        words.rowsPanel.rowsPassInAllOnly(formatPassing(grid.report), formatCount(grid.report?.total ?? 0))
      }}
    </p>
    <form class="row" @submit.prevent="go">
      <VTextField v-model="key" :label="keyName" />
      <VBtn type="submit">{{ words.rowsPanel.goToIt }}</VBtn>
    </form>
    <p v-if="answer" class="held answer" role="status">{{ answer }}</p>
    <h3>{{ words.rowsPanel.selection }}</h3>
    <SelectionSettings />
    <p class="soft">
      {{
        grid.selected === 0
          ? words.rowsPanel.nothingIsSelectedTickRows
          : words.rowsPanel.rowsAreSelected(formatCount(grid.selected))
      }}
    </p>
    <VBtn v-if="grid.selected > 0" class="clear" size="small" @click="grid.handle?.clearSelection()">{{
      words.rowsPanel.clearTheSelection
    }}</VBtn>
    <h3>{{ words.rowsPanel.details }}</h3>
    <DetailSettings />
    <template v-if="stage > 0">
      <h3>{{ words.rowsPanel.heightsAndPages }}</h3>
      <div class="heights"><RowHeights /></div>
      <PageSettings />
      <BatchActions />
    </template>
    <EditingSettings v-if="stage > 1" />
    <template v-if="stage > 2">
      <ExportSettings />
      <h3>{{ words.rowsPanel.menu }}</h3>
      <p class="soft">{{ words.rowsPanel.menusOfferWhatIsAllowed }}</p>
    </template>
  </section>
</template>

<style scoped>
.answer {
  margin-block-start: 8px;
}
.heights {
  display: grid;
  gap: 9px;
  margin-block-end: 8px;
}
.clear {
  margin-block-start: 8px;
}
</style>
