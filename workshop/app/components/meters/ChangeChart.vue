<script setup lang="ts">
import { words } from '~/words'
import { max } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import type { MeteredChange } from '~/meters/session'
import { formatMs } from '~/utils/format'

/** The last changes, each a bar of the time until it was painted, and in it the stages that were computed again. */
const { changes } = defineProps<{ changes: readonly MeteredChange[] }>()

const SHOWN = 28
const WIDTH = 300
const HEIGHT = 92
const bars = computed(() => {
  const last = changes.slice(-SHOWN)
  const y = scaleLinear([0, max(last, ({ ms }) => ms) || 1], [0, HEIGHT])
  return last.map((change, i) => {
    let top = HEIGHT
    const stages = change.stages.map(({ stage, ms }) => {
      const height = y(Math.min(ms, change.ms))
      top -= height
      return { stage, y: top, height }
    })
    return { change, x: (i * WIDTH) / SHOWN, y: HEIGHT - y(change.ms), height: y(change.ms), stages }
  })
})
const stageName = (stage: string): string =>
  (words.stageNotes.stages as Partial<Record<string, string>>)[stage] ?? stage
const latest = computed(() => changes.at(-1))
const said = computed(() => {
  if (!latest.value) return words.changeChart.nothingChangedYet
  const { name, ms, stages } = latest.value
  const parts = stages.map(({ stage, ms }) => `${stageName(stage)} ${formatMs(ms)}`).join(', ')
  return words.changeChart.ofIt(name, formatMs(ms), parts || words.changeChart.noStage)
})
</script>

<template>
  <figure>
    <figcaption>
      <b>{{ words.changeChart.changeToPaint }}</b> <span class="soft">{{ said }}</span>
    </figcaption>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" role="img" :aria-label="said">
      <g v-for="bar in bars" :key="bar.change.at">
        <title>{{ bar.change.name }}, {{ formatMs(bar.change.ms) }}</title>
        <rect :x="bar.x" :y="bar.y" :width="WIDTH / SHOWN - 2" :height="bar.height" class="rest" />
        <rect
          v-for="part in bar.stages"
          :key="part.stage"
          :x="bar.x"
          :y="part.y"
          :width="WIDTH / SHOWN - 2"
          :height="part.height"
          :class="part.stage"
        />
      </g>
    </svg>
    <ul class="legend">
      <li v-for="stage in ['search', 'conditions', 'order', 'groups', 'rows', 'rest']" :key="stage">
        <i :class="stage" />{{ stageName(stage) }}
      </li>
    </ul>
  </figure>
</template>

<style scoped>
.rest {
  fill: var(--bar-idle);
  background: var(--bar-idle);
}
.search {
  fill: var(--straw);
  background: var(--straw);
}
.conditions {
  fill: var(--poppy);
  background: var(--poppy);
}
.order {
  fill: var(--cornflower);
  background: var(--cornflower);
}
.groups {
  fill: var(--heather);
  background: var(--heather);
}
.rows {
  fill: var(--moss);
  background: var(--moss);
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  font-size: 11px;
  color: var(--ink-soft);
}
.legend i {
  display: inline-block;
  inline-size: 8px;
  block-size: 8px;
  margin-inline-end: 4px;
}
</style>
