<script setup lang="ts">
import { words } from '~/words'
import { useMeters } from '~/stores/meters'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount, formatMs } from '~/utils/format'

/** The meters over the session, as charts. */
const meters = useMeters()
const grid = useOpenGrid()
const frames = computed(() => meters.session.frames.map(({ at, ms }) => ({ at, value: ms })))
const elements = computed(() => meters.session.frames.map(({ at, elements: value }) => ({ at, value })))
const slowFrames = computed(() => meters.slower.filter(({ of }) => of === 'frames').map(({ mark }) => mark))
</script>

<template>
  <section class="charts" :aria-label="words.meterCharts.metersOverTheSession">
    <p v-for="slow in meters.slower" :key="`${slow.of} ${slow.mark.at}`" class="slower" role="status">
      {{
        words.meterCharts.sinceTakeInsteadOf(
          slow.mark.name,
          slow.of,
          formatMs(slow.after),
          formatMs(slow.before),
        )
      }}
    </p>
    <ChangeChart :changes="meters.session.changes" />
    <LineChart
      :title="words.meterCharts.frame"
      :points="frames"
      :marks="meters.session.marks"
      :slow="slowFrames"
      :write="formatMs"
    />
    <LineChart
      :title="words.meterCharts.elements"
      :points="elements"
      :marks="meters.session.marks"
      :slow="[]"
      :write="formatCount"
    />
    <AskedChart v-if="grid.isFar" />
    <ColumnBytes v-else />
  </section>
</template>

<style scoped>
.charts {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 4px 26px;
  padding: 12px 16px;
  background: var(--panel);
  border-block-start: 1px solid var(--rule);
}
.slower {
  grid-column: 1 / -1;
  color: var(--poppy);
  font-size: 12px;
}
.charts :deep(figure) {
  margin: 0;
  min-inline-size: 0;
}
.charts :deep(figcaption) {
  font-size: 12px;
  margin-block-end: 6px;
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.charts :deep(svg) {
  inline-size: 100%;
  block-size: 92px;
  display: block;
  border-block-end: 1px solid var(--rule);
}
@media (max-width: 900px) {
  .charts {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
