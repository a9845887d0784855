<script setup lang="ts">
import { scaleLog } from 'd3-scale'

/** A table's shape at a glance: as tall as its rows and as wide as its columns, both on log scales. */
const { rows, columns } = defineProps<{ rows: number; columns: number }>()

const tall = scaleLog().domain([100, 10_000_000]).range([2, 9]).clamp(true)
const wide = scaleLog().domain([4, 1000]).range([40, 228]).clamp(true)
const bands = computed(() => {
  const count = Math.round(tall(rows))
  return Array.from({ length: count }, (_, i) => ({
    y: 54 - (i + 1) * 6,
    width: wide(columns) * (1 - i * 0.035),
  }))
})
</script>

<template>
  <svg viewBox="0 0 228 54" preserveAspectRatio="xMinYMax meet" class="strata" aria-hidden="true">
    <rect
      v-for="(band, i) in bands"
      :key="i"
      x="0"
      :y="band.y"
      :width="band.width"
      height="4"
      rx="1.5"
      :opacity="1 - i * 0.08"
    />
  </svg>
</template>

<style scoped>
.strata {
  inline-size: 100%;
  block-size: 54px;
  fill: var(--moss-stream);
}
</style>
