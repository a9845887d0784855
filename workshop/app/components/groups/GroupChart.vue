<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import type { GroupMeasure, GroupPath, ListedGroup } from '@vast-meadow/engine'
import { summaryShower } from '@vast-meadow/engine'
import { gridTexts, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const props = defineProps<{ level: number; measure: GroupMeasure }>()

/** Groups that are charted; more could not be told apart. */
const MOST = 5000
const BAR_PX = 20
const ROOM_PX = 300

interface Bar {
  readonly group: ListedGroup
  readonly value: number
  readonly shown: string
}

const grid = useOpenGrid()
const bars = shallowRef<readonly Bar[]>([])
const count = ref(0)
const top = ref(0)
let asked = 0

async function load(): Promise<void> {
  const mine = ++asked
  const { handle } = grid
  const source = handle?.source
  if (!handle || !source || !grid.arrangement || props.level >= grid.arrangement.groups.length) {
    bars.value = []
    return
  }
  const request = handle.request()
  const { measure, level } = props
  const told = await source.ask('levelGroups', { request, level, from: 0, to: MOST })
  const [summed] = measure === 'size' ? [] : await source.ask('summarize', { request, of: [measure] })
  if (mine !== asked) return
  const field =
    measure === 'size' ? undefined : grid.description?.fields.find(({ key }) => key === measure.column)
  const format = measure === 'size' ? undefined : request.binding?.formats[measure.column]
  const show = field && measure !== 'size' ? summaryShower(measure.summary, field, format) : String
  count.value = told.count
  bars.value = told.groups.map((group, nth): Bar => {
    if (measure === 'size') return { group, value: group.rows, shown: formatCount(group.rows) }
    const value = summed?.levels.at(level)?.[nth] ?? null
    const number = typeof value === 'number' ? value : NaN
    return {
      group,
      value: Number.isFinite(number) ? number : 0,
      shown: Number.isNaN(value) ? '' : show(value),
    }
  })
}

const scale = computed(() => {
  const values = bars.value.map(({ value }) => value)
  return scaleLinear([Math.min(0, ...values), Math.max(0, ...values)], [0, 100])
})
const first = computed(() => Math.max(0, Math.floor(top.value / BAR_PX) - 3))
const inView = computed(() => bars.value.slice(first.value, first.value + Math.ceil(ROOM_PX / BAR_PX) + 6))
const nameOf = ({ rest, value, shown }: ListedGroup): string =>
  rest ? gridTexts.restOfGroups : value === null ? gridTexts.missing : shown

async function go(path: GroupPath): Promise<void> {
  await grid.handle?.goToGroup(path)
}

watch(
  () => [props.level, props.measure, grid.report, grid.arrangement?.groups] as const,
  () => void load().catch(() => (bars.value = [])),
  { immediate: true },
)
</script>

<template>
  <figure v-if="bars.length > 0" class="chart">
    <figcaption>{{ words.groupsPanel.chartOf(formatCount(count)) }}</figcaption>
    <div
      class="room"
      :style="{ maxBlockSize: `${ROOM_PX}px` }"
      tabindex="0"
      @scroll.passive="top = ($event.target as HTMLElement).scrollTop"
    >
      <ul :style="{ blockSize: `${bars.length * BAR_PX}px` }">
        <li
          v-for="({ group, value, shown }, i) in inView"
          :key="first + i"
          :style="{ insetBlockStart: `${(first + i) * BAR_PX}px`, blockSize: `${BAR_PX}px` }"
        >
          <button type="button" :title="`${nameOf(group)}: ${shown}`" @click="go(group.path)">
            <span class="name">{{ nameOf(group) }}</span>
            <span class="track"
              ><i
                :style="{
                  insetInlineStart: `${Math.min(scale(0), scale(value))}%`,
                  inlineSize: `${Math.abs(scale(value) - scale(0))}%`,
                }"
            /></span>
            <span class="value">{{ shown }}</span>
          </button>
        </li>
      </ul>
    </div>
    <small v-if="count > bars.length">{{
      words.groupsPanel.onlyTheFirstAreShown(formatCount(bars.length))
    }}</small>
  </figure>
</template>

<style scoped>
.chart {
  margin: 0;
}
figcaption,
small {
  color: var(--ink-soft);
  font-size: 12px;
}
.room {
  overflow: auto;
  margin-block-start: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  position: relative;
}
li {
  position: absolute;
  inset-inline: 0;
}
button {
  inline-size: 100%;
  block-size: 100%;
  display: grid;
  grid-template-columns: minmax(0, 34%) minmax(0, 1fr) 72px;
  gap: 8px;
  align-items: center;
  border: 0;
  background: none;
  color: inherit;
  font-size: 12px;
  text-align: start;
  cursor: pointer;
  border-radius: 4px;
  padding: 0 4px;
}
button:hover {
  background: var(--paper);
}
.name {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.track {
  position: relative;
  block-size: 10px;
}
.track i {
  position: absolute;
  inset-block: 0;
  border-radius: 2px;
  background: var(--moss-stream);
}
.value {
  text-align: end;
  font-variant-numeric: tabular-nums;
}
</style>
