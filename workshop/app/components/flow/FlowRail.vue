<script setup lang="ts">
import { words } from '~/words'
import type { StageName } from '@vast-meadow/engine'
import { useOpenGrid, type PanelName } from '~/stores/open-grid'
import { formatAtLeast, formatCount, formatMs } from '~/utils/format'
import { lookNote, stageNotes } from './stage-notes'
import FlowStream from './FlowStream.vue'

const grid = useOpenGrid()

const NAMES: readonly { readonly name: StageName; readonly title: string }[] = [
  { name: 'source', title: words.flowRail.source },
  { name: 'columns', title: words.flowRail.columns },
  { name: 'search', title: words.flowRail.search },
  { name: 'conditions', title: words.flowRail.conditions },
  { name: 'order', title: words.flowRail.order },
  { name: 'groups', title: words.flowRail.groups },
  { name: 'rows', title: words.flowRail.rows },
]

/** From the conditions on, more rows may come than are known by now. */
const counted = (name: StageName, rows: number): string =>
  name === 'source' || name === 'columns' || name === 'search'
    ? formatCount(rows)
    : formatAtLeast(rows, grid.report)

const stages = computed(() => {
  const notes = stageNotes(grid)
  return NAMES.map(({ name, title }) => {
    const report = grid.report?.stages.find(stage => stage.stage === name)
    const time = name === 'source' ? grid.description?.ms : report?.fresh ? report.ms : undefined
    return {
      name,
      title,
      count: report ? counted(name, report.rowsOut) : '',
      note: notes[name],
      time: time === undefined ? '' : formatMs(time),
    }
  })
})

/** Share of all rows that leave each stage; the stream is as wide as its square root. */
const shares = computed(() => {
  const { report } = grid
  if (!report || report.total === 0) return NAMES.map(() => 1)
  const search = report.stages.find(({ stage }) => stage === 'search')
  const found = (search?.rowsOut ?? report.total) / report.total
  const passing = report.passing / report.total
  const inView = (grid.measures?.lines ?? 0) / report.total
  return [1, 1, found, passing, passing, passing, Math.min(passing, inView)]
})

/** What is no stage that rows pass. */
const steps = computed(() => [
  { name: 'look' as const, title: words.flowRail.look, note: lookNote(grid.definition) },
  { name: 'ship' as const, title: words.flowRail.ship, note: words.flowRail.theCodeForThisGrid },
])

function choose(name: PanelName): void {
  grid.panel = grid.panel === name ? null : name
}
</script>

<template>
  <nav class="flow" :aria-label="words.flowRail.flow">
    <FlowStream :shares="shares" />
    <button
      v-for="stage in stages"
      :key="stage.name"
      type="button"
      class="stage"
      :class="{ on: grid.panel === stage.name }"
      :aria-pressed="grid.panel === stage.name"
      @click="choose(stage.name)"
    >
      <span class="title">{{ stage.title }}</span>
      <span class="count figure">{{ stage.count }}</span>
      <span class="note">{{ stage.note }}</span>
      <span class="time figure">{{ stage.time }}</span>
    </button>
    <div class="steps">
      <button
        v-for="step in steps"
        :key="step.name"
        type="button"
        class="step"
        :class="{ on: grid.panel === step.name }"
        :aria-pressed="grid.panel === step.name"
        @click="choose(step.name)"
      >
        <span class="title">{{ step.title }}</span>
        <span class="note">{{ step.note }}</span>
      </button>
    </div>
  </nav>
</template>

<style scoped>
.flow {
  position: relative;
  border-inline-end: 1px solid var(--rule);
  padding-block-start: 4px;
  overflow: auto;
}
.stage {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  inline-size: 100%;
  block-size: 56px;
  padding-block: 7px;
  padding-inline: 44px 10px;
  text-align: start;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  cursor: pointer;
  column-gap: 5px;
  align-content: center;
  row-gap: 1px;
}
.stage:hover:not(.on) {
  background: color-mix(in srgb, var(--panel) 55%, transparent);
}
.on {
  background: var(--panel);
  box-shadow:
    inset 0 1px var(--rule),
    inset 0 -1px var(--rule),
    inset 3px 0 var(--moss);
}
:dir(rtl).on {
  box-shadow:
    inset 0 1px var(--rule),
    inset 0 -1px var(--rule),
    inset -3px 0 var(--moss);
}
/* Words are longer in some languages. */
.title {
  overflow: clip;
  text-overflow: ellipsis;
  font-weight: 600;
}
.count {
  font-size: 12px;
  text-align: end;
  align-self: center;
}
.note {
  font-size: 11.5px;
  color: var(--ink-soft);
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.time {
  font-size: 10.5px;
  color: var(--ink-soft);
  text-align: end;
  align-self: center;
}
.steps {
  margin: 14px 12px;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--panel);
  overflow: clip;
}
.step {
  display: grid;
  inline-size: 100%;
  padding: 7px 12px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: start;
  cursor: pointer;
}
.step + .step {
  border-block-start: 1px solid var(--rule-soft);
}
.step:hover {
  background: color-mix(in srgb, var(--ink) 4%, transparent);
}
@media (max-width: 820px) {
  .stage {
    grid-template-columns: minmax(0, 1fr);
    padding-inline-end: 6px;
  }
  .note,
  .time {
    display: none;
  }
  .count {
    text-align: start;
    font-size: 11px;
  }
  .steps {
    margin-inline: 6px;
  }
}
</style>
