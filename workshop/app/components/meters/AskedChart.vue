<script setup lang="ts">
import { words } from '~/words'
import { max } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { askedOfService } from '~/service/asked'
import { formatBytes, formatCount, formatMs } from '~/utils/format'

/** The last questions to the service, each a bar of the time until it was answered, and in it what the database took. */
const SHOWN = 28
const WIDTH = 300
const HEIGHT = 92
const bars = computed(() => {
  const last = askedOfService.value.last.slice(0, SHOWN).reverse()
  const y = scaleLinear([0, max(last, ({ ms }) => ms) || 1], [0, HEIGHT])
  return last.map(({ path, ms, database, status }, i) => ({
    path,
    ms,
    x: (i * WIDTH) / SHOWN,
    height: y(ms),
    database: y(Math.min(ms, database?.ms ?? 0)),
    failed: status >= 400,
  }))
})
const said = computed(() => {
  const [latest] = askedOfService.value.last
  if (!latest) return words.askedChart.nothing
  const { ms, database } = latest
  return database
    ? words.askedChart.ofWhich(formatMs(ms), formatMs(database.ms), database.did)
    : words.askedChart.last(formatMs(ms))
})
const all = computed(() =>
  words.askedChart.all(formatCount(askedOfService.value.questions), formatBytes(askedOfService.value.bytes)),
)
</script>

<template>
  <figure>
    <figcaption>
      <b>{{ words.askedChart.asked }}</b> <span class="soft" :title="said">{{ all }}</span>
    </figcaption>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" role="img" :aria-label="said">
      <g v-for="(bar, i) in bars" :key="i">
        <title>{{ words.askedChart.one(bar.path, formatMs(bar.ms)) }}</title>
        <rect
          :x="bar.x"
          :y="HEIGHT - bar.height"
          :width="WIDTH / SHOWN - 2"
          :height="bar.height"
          :class="bar.failed ? 'failed' : 'line'"
        />
        <rect
          :x="bar.x"
          :y="HEIGHT - bar.database"
          :width="WIDTH / SHOWN - 2"
          :height="bar.database"
          class="database"
        />
      </g>
    </svg>
    <ul class="legend">
      <li><i class="database" />{{ words.meterBar.database }}</li>
      <li><i class="line" />{{ words.askedChart.rest }}</li>
    </ul>
  </figure>
</template>

<style scoped>
.line {
  fill: var(--bar-idle);
  background: var(--bar-idle);
}
.failed {
  fill: var(--poppy);
}
.database {
  fill: var(--moss);
  background: var(--moss);
}
.legend {
  display: flex;
  gap: 10px;
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
  border-radius: 2px;
  margin-inline-end: 4px;
}
</style>
