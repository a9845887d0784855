<script setup lang="ts">
import {
  kindOf,
  levelOf,
  usualBucket,
  type Definition,
  type GroupMeasure,
  type Level,
} from '@vast-meadow/engine'
import { sentences, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { useStages } from '~/composables/use-stages'
import { whyNot } from '~/utils/why-not'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
const stage = useStages(2)
const refusal = computed(() => whyNot(grid.description?.can.groups))
const levels = computed<readonly Level[]>(() => grid.arrangement?.groups ?? [])
const free = computed(() =>
  (grid.definition?.columns ?? [])
    .filter(({ key }) => !levels.value.some(({ column }) => column === key))
    .map(column => ({ title: column.title || column.key, value: column.key })),
)
const measures = computed(() => [
  { title: words.groupsPanel.rows, value: 'size' as GroupMeasure },
  ...Object.entries(grid.arrangement?.summaries ?? {}).map(([column, summary]) => ({
    title: words.groupsPanel.measureOf(sentences.summaries[kindOf(summary)], grid.titleOf(column)),
    value: { column, summary } as GroupMeasure,
  })),
])
const chartLevel = ref(0)
const chartMeasure = shallowRef<GroupMeasure>('size')
/** Why what some groups are asked for is not held back; null: it is, or none is asked. */
const keepRefusal = computed(() => {
  const { keep, rest = keep } = grid.description?.can ?? {}
  const kept = levels.value.flatMap(level => level.keep ?? [])
  const joins = kept.some(({ most }) => most?.rest === 'together')
  return kept.length > 0 ? (whyNot(keep) ?? (joins ? whyNot(rest) : null)) : null
})
const heldBack = computed(() => (grid.report?.groupsHeldBack ?? []).filter(({ groups }) => groups > 0))

const arrange = (next: readonly Level[]): void => grid.change({ groups: [...next] })
async function add(column: string | null): Promise<void> {
  if (!column) return
  const field = grid.description?.fields.find(({ key }) => key === column)
  const told = await grid.handle?.source?.ask('profile', { column, limit: 0 }).catch(() => undefined)
  const given = grid.definition?.columns.find(({ key }) => key === column)?.bucket
  const bucket = given ?? (field && told ? usualBucket(field, told) : { by: 'value' as const })
  arrange([...levels.value, levelOf(column, { bucket })])
}
function move(from: number, to: number): void {
  const next = levels.value.filter((_, i) => i !== from)
  arrange([...next.slice(0, to), levels.value[from], ...next.slice(to)])
}
const list = useTemplateRef<HTMLElement>('list')
const { dragged, over, grab, nudge, drop: letGo } = useDragList(list, () => levels.value.length, move)
const totals = (['foot', 'head', 'none'] as const).map(value => ({
  value,
  title: words.groupsPanel.totalsAt[value],
}))
const define = (what: string, change: Partial<Definition>): void =>
  void grid.define(what, { ...grid.now.definition, ...change })
const openLevels = (open: number | null): void => grid.change({ open: { levels: open, except: [] } })
</script>

<template>
  <section>
    <h2>{{ words.groupsPanel.groups }}</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        {{
          levels.length === 0
            ? words.groupsPanel.rowsAreNotGrouped
            : words.groupsPanel.rowsIn(formatCount(grid.report?.groups.at(-1) ?? 0))
        }}
      </p>
      <p v-if="keepRefusal" class="lead">{{ words.groupsPanel.keepsAll(keepRefusal) }}</p>
      <p v-for="{ level, groups, rows } in heldBack" :key="level" class="lead">
        {{
          words.groupsPanel.heldBack(
            formatCount(groups),
            formatCount(rows),
            grid.titleOf(levels[level]?.column ?? ''),
          )
        }}
      </p>
      <ol ref="list" class="levels" @pointermove="over" @pointerup="letGo" @pointercancel="letGo">
        <LevelCard
          v-for="(level, nth) in levels"
          :key="level.column"
          :level="level"
          :nth="nth"
          :class="{ dragged: dragged === nth }"
          :groups="grid.report?.groups[nth]"
          :measures="measures"
          @change="arrange(levels.map((old, i) => (i === nth ? $event : old)))"
          @grab="grab($event, nth)"
          @nudge="nudge($event, nth)"
          @remove="arrange(levels.filter((_, i) => i !== nth))"
        />
      </ol>
      <VAutocomplete
        :key="levels.length"
        :model-value="null"
        :items="free"
        :label="levels.length === 0 ? words.groupsPanel.groupBy : words.groupsPanel.thenBy"
        @update:model-value="add($event)"
      />
      <div v-if="levels.length > 0" class="row actions">
        <span>{{ words.groupsPanel.openAtTheStart }}</span>
        <VBtn size="small" @click="openLevels(null)">{{ words.groupsPanel.openAll }}</VBtn>
        <VBtn v-for="depth in levels.length - 1" :key="depth" size="small" @click="openLevels(depth)">{{
          words.groupsPanel.openLevels(depth)
        }}</VBtn>
        <VBtn size="small" @click="openLevels(0)">{{ words.groupsPanel.closeAll }}</VBtn>
      </div>
      <template v-if="stage >= 1 && levels.length > 0">
        <h3>{{ words.groupsPanel.chart }}</h3>
        <div class="row">
          <VSelect
            v-model="chartLevel"
            :items="levels.map(({ column }, value) => ({ title: grid.titleOf(column), value }))"
            :label="words.groupsPanel.levelOfChart"
          />
          <VSelect v-model="chartMeasure" :items="measures" :label="words.groupsPanel.measureOfChart" />
        </div>
        <GroupChart :level="Math.min(chartLevel, levels.length - 1)" :measure="chartMeasure" />
      </template>
      <template v-if="stage >= 2">
        <h3>{{ words.groupsPanel.summaries }}</h3>
        <p class="lead">{{ words.groupsPanel.summariesLead }}</p>
        <SummaryList />
        <VSelect
          class="totals"
          :model-value="grid.definition?.totals"
          :items="totals"
          :label="words.groupsPanel.totals"
          @update:model-value="define(words.groupsPanel.totals, { totals: $event })"
        />
        <h3>{{ words.groupsPanel.readersMay }}</h3>
        <VCheckbox
          :model-value="grid.definition?.groupable"
          :label="words.groupsPanel.groupRows"
          @update:model-value="define(words.groupsPanel.groupRows, { groupable: $event === true })"
        />
        <ColumnsThat
          :is="({ groupable }) => !groupable"
          v-if="grid.definition?.groupable"
          :label="words.groupsPanel.neverGroupBy"
          :what="words.groupsPanel.neverGroupBy"
          :make="(column, yes) => ({ ...column, groupable: !yes })"
        />
      </template>
    </template>
  </section>
</template>

<style scoped>
.levels {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
  display: grid;
  gap: 8px;
}
.levels {
  touch-action: none;
}
.dragged {
  border-color: var(--ink-soft);
  box-shadow: 0 6px 18px -12px #000a;
}
.totals {
  margin-block-start: 12px;
}
.actions {
  margin-block: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.row > * {
  min-inline-size: 0;
}
h3 {
  margin-block: 16px 6px;
}
</style>
