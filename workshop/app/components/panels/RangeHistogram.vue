<script setup lang="ts">
import { max } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import type { Facets } from '@vast-meadow/engine'

const { facets, from, to } = defineProps<{ facets: Facets; from?: number; to?: number }>()

const WIDTH = 246
const HEIGHT = 52
const bars = computed(() => {
  const count = facets.histogram.length
  const low = facets.low ?? 0
  const high = facets.high ?? 1
  const y = scaleLinear([0, max(facets.histogram) || 1], [0, HEIGHT])
  const step = (high - low) / count
  return facets.histogram.map((rows, i) => {
    const middle = low + (i + 0.5) * step
    return {
      x: (i * WIDTH) / count,
      height: rows > 0 ? Math.max(1, y(rows)) : 0,
      inside: middle >= (from ?? -Infinity) && middle <= (to ?? Infinity),
    }
  })
})
const x = computed(() => scaleLinear([facets.low ?? 0, facets.high ?? 1], [0, WIDTH]).clamp(true))
</script>

<template>
  <svg class="histogram" :viewBox="`0 0 ${WIDTH} ${HEIGHT + 2}`" aria-hidden="true">
    <rect
      v-for="(bar, i) in bars"
      :key="i"
      :x="bar.x"
      :y="HEIGHT - bar.height"
      :width="WIDTH / bars.length - 1.5"
      :height="bar.height"
      :class="{ inside: bar.inside }"
    />
    <line v-if="from !== undefined" :x1="x(from)" :x2="x(from)" y1="0" :y2="HEIGHT" />
    <line v-if="to !== undefined" :x1="x(to)" :x2="x(to)" y1="0" :y2="HEIGHT" />
  </svg>
</template>

<style scoped>
.histogram {
  inline-size: 100%;
  margin-block: 8px 4px;
  display: block;
}
rect {
  fill: var(--bar-idle);
}
rect.inside {
  fill: var(--moss-stream);
}
line {
  stroke: var(--moss);
  stroke-width: 2;
}
</style>
