<script setup lang="ts">
import { words } from '~/words/english'
import { useOpenGrid } from '~/stores/open-grid'
import { whyNot } from '~/utils/why-not'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
const refusal = computed(() => whyNot(grid.description?.can.groups))
const columns = computed(() =>
  (grid.definition?.columns ?? []).map(column => ({ title: column.title || column.key, value: column.key })),
)
const setOpen = (all: boolean): void => grid.change({ open: { all, except: [] } })
</script>

<template>
  <section>
    <h2>{{ words.groupsPanel.groups }}</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        {{
          grid.arrangement?.group === null
            ? words.groupsPanel.rowsAreNotGrouped
            : words.groupsPanel.groupsInTheOrderOf(formatCount(grid.report?.groups ?? 0))
        }}
      </p>
      <VAutocomplete
        :model-value="grid.arrangement?.group"
        :items="columns"
        :label="words.groupsPanel.groupBy"
        clearable
        @update:model-value="grid.change({ group: $event ?? null, open: { all: true, except: [] } })"
      />
      <div v-if="grid.arrangement?.group !== null" class="row actions">
        <VBtn size="small" @click="setOpen(true)">{{ words.groupsPanel.openAll }}</VBtn>
        <VBtn size="small" @click="setOpen(false)">{{ words.groupsPanel.closeAll }}</VBtn>
      </div>
    </template>
  </section>
</template>

<style scoped>
.actions {
  margin-block-start: 12px;
}
</style>
