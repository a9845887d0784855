<script setup lang="ts">
import { words } from '~/words'
import { extent, max } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import type { DefinitionMark } from '~/meters/session'

/** A figure over the session, with the definition's changes as marks. */
const { title, points, marks, slow, write } = defineProps<{
  title: string
  points: readonly { readonly at: number; readonly value: number }[]
  marks: readonly DefinitionMark[]
  /** Marks after which it became slower. */
  slow: readonly DefinitionMark[]
  write: (value: number) => string
}>()

const WIDTH = 240
const HEIGHT = 92
const x = computed(() => {
  const [from = 0, to = 1] = extent(points, ({ at }) => at)
  return scaleLinear([from, Math.max(to, from + 1)], [0, WIDTH])
})
const y = computed(() => scaleLinear([0, (max(points, ({ value }) => value) || 1) * 1.08], [HEIGHT, 0]))
const path = computed(
  () =>
    line<{ at: number; value: number }>(
      ({ at }) => x.value(at),
      ({ value }) => y.value(value),
    )([...points]) ?? '',
)
const shownMarks = computed(() => {
  const [from, to] = x.value.domain()
  return marks
    .filter(({ at }) => at >= from && at <= to)
    .map(mark => ({ mark, x: x.value(mark.at), slow: slow.some(one => one.at === mark.at) }))
})
const ofPoint = (value: number | undefined, none: string): string =>
  value === undefined ? none : write(value)
const latest = computed(() => ofPoint(points.at(-1)?.value, words.lineChart.nothingYet))
const most = computed(() =>
  ofPoint(
    max(points, ({ value }) => value),
    '',
  ),
)
</script>

<template>
  <figure>
    <figcaption>
      <b>{{ title }}</b> <span class="soft">{{ latest }}{{ most ? words.lineChart.atMost(most) : '' }}</span>
    </figcaption>
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`${title}: ${latest}${most ? words.lineChart.atMost(most) : ''}`"
    >
      <line
        v-for="{ mark, x: at, slow: isSlow } in shownMarks"
        :key="mark.at"
        :x1="at"
        :x2="at"
        y1="0"
        :y2="HEIGHT"
        :class="{ slow: isSlow }"
      >
        <title>{{ mark.name }}</title>
      </line>
      <path :d="path" />
    </svg>
  </figure>
</template>

<style scoped>
path {
  fill: none;
  stroke: var(--moss);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
line {
  stroke: var(--rule);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
line.slow {
  stroke: var(--poppy);
  stroke-width: 2;
}
</style>
