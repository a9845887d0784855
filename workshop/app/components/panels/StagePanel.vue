<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid, type PanelName } from '~/stores/open-grid'

const { name } = defineProps<{ name: PanelName }>()
const grid = useOpenGrid()
/** How the file was to be read that could not be. */
const unread = computed(() => {
  const origin = grid.saved?.origin
  return grid.problem && origin?.kind === 'file' ? (origin.options ?? {}) : null
})

const called = computed(() => {
  const { flowRail: stages, topBar, findingsPanel, scenesPanel } = words
  if (name === 'trace') return topBar.traceARow
  if (name === 'scenes') return scenesPanel.scenes
  return name === 'findings' ? findingsPanel.findings : stages[name]
})

const PANELS = {
  source: resolveComponent('SourcePanel'),
  columns: resolveComponent('ColumnsPanel'),
  search: resolveComponent('SearchPanel'),
  conditions: resolveComponent('ConditionsPanel'),
  order: resolveComponent('OrderPanel'),
  groups: resolveComponent('GroupsPanel'),
  rows: resolveComponent('RowsPanel'),
  look: resolveComponent('LookPanel'),
  ship: resolveComponent('ShipPanel'),
  findings: resolveComponent('FindingsPanel'),
  trace: resolveComponent('TracePanel'),
  scenes: resolveComponent('ScenesPanel'),
}
</script>

<template>
  <aside :aria-label="words.stagePanel.panel(called)">
    <div class="panel">
      <button
        class="close"
        type="button"
        :aria-label="words.stagePanel.closeThePanel"
        @click="grid.panel = null"
      >
        ×
      </button>
      <component :is="PANELS[name]" v-if="grid.report" />
      <p v-else-if="grid.coming" class="lead">{{ words.stagePanel.onlyTheFirstRows }}</p>
      <UnreadFile v-else-if="name === 'source' && unread" :options="unread" />
    </div>
    <PanelEdge />
  </aside>
</template>

<style scoped>
.panel {
  position: relative;
  border-inline-end: 1px solid var(--rule);
  background: var(--panel);
  padding: 13px 14px 20px;
  overflow: hidden auto;
  min-inline-size: 0;
  scrollbar-width: thin;
  scrollbar-color: var(--bar-idle) transparent;
}
.close {
  position: absolute;
  inset-block-start: 10px;
  inset-inline-end: 10px;
  border: 1px solid transparent;
  background: none;
  color: var(--ink-soft);
  inline-size: 26px;
  block-size: 26px;
  border-radius: 6px;
  font-size: 17px;
  line-height: 1;
  cursor: pointer;
}
.close:hover {
  border-color: var(--rule);
  color: var(--ink);
}
.panel :deep(h2) {
  padding-inline-end: 28px;
  margin-block-end: 2px;
}
.panel :deep(.lead) {
  color: var(--ink-soft);
  margin-block-end: 12px;
}
.panel :deep(.box) {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: 10px 12px;
  margin-block-end: 10px;
}
.panel :deep(.row) {
  display: flex;
  align-items: center;
  gap: 8px;
  min-inline-size: 0;
}
.panel :deep(.push) {
  margin-inline-start: auto;
}
.panel :deep(h3) {
  margin-block: 16px 8px;
}
.panel :deep(.box > h3:first-child) {
  margin-block-start: 0;
}
</style>
