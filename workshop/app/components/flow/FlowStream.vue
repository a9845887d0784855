<script setup lang="ts">
import { area, curveMonotoneY } from 'd3-shape'

/** The stream beside the stages: as wide as the square root of the share of rows that are still in it. */
const { shares } = defineProps<{ shares: readonly number[] }>()

const STAGE = 56
const MIDDLE = 21
const HALF = 14

const path = computed(() => {
  const points = shares.flatMap((share, i) => {
    const half = Math.max(1.2, Math.sqrt(share) * HALF)
    return [
      { y: i * STAGE + 6, half },
      { y: (i + 1) * STAGE - 8, half },
    ]
  })
  const stream = area<{ y: number; half: number }>()
    .y(point => point.y)
    .x0(point => MIDDLE - point.half)
    .x1(point => MIDDLE + point.half)
    .curve(curveMonotoneY)
  return stream(points) ?? ''
})
</script>

<template>
  <svg class="stream" width="42" :height="shares.length * STAGE" aria-hidden="true"><path :d="path" /></svg>
</template>

<style scoped>
.stream {
  position: absolute;
  inset-inline-start: 0;
  inset-block-start: 4px;
  pointer-events: none;
  z-index: 1;
}
path {
  fill: var(--moss-stream);
}
</style>
