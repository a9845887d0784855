<script setup lang="ts">
import { whereText } from '~/utils/where-text'
import { words } from '~/words'
import { askedOfService } from '~/service/asked'
import { useMeters } from '~/stores/meters'
import { useOpenGrid } from '~/stores/open-grid'
import { formatBytes, formatCount, formatMs } from '~/utils/format'

const grid = useOpenGrid()
const meters = useMeters()
const last = computed(() => askedOfService.value.last.at(0))
</script>

<template>
  <footer class="meters figure" :aria-label="words.meterBar.meters">
    <template v-if="grid.measures && grid.description">
      <span
        >{{ words.meterBar.frame }}
        <b>{{ grid.measures.frameMs ? formatMs(grid.measures.frameMs) : '–' }}</b></span
      >
      <span
        >{{ words.meterBar.drawn }} <b>{{ grid.measures.lines }} × {{ grid.measures.columns }}</b
        >, <b>{{ formatCount(grid.measures.elements) }}</b> {{ words.meterBar.elements }}</span
      >
      <span
        >{{ words.meterBar.lastChangeToPaint }}
        <b>{{ grid.measures.changeMs ? formatMs(grid.measures.changeMs) : '–' }}</b></span
      >
      <template v-if="grid.isFar">
        <span
          >{{ words.meterBar.asked }} <b>{{ formatCount(askedOfService.questions) }}</b>,
          <b>{{ formatBytes(askedOfService.bytes) }}</b></span
        >
        <span v-if="last"
          >{{ words.meterBar.last }} <b>{{ formatMs(last.ms) }}</b><template v-if="last.database"
            >, {{ words.meterBar.database }} <b>{{ formatMs(last.database.ms) }}</b></template
          ></span
        >
      </template>
      <span v-else
        >{{ words.meterBar.table }} <b>{{ formatBytes(grid.description.bytes) }}</b></span
      >
      <span class="where">{{ whereText(grid.description.where) }}</span>
      <button type="button" class="open" :aria-expanded="meters.open" @click="meters.open = !meters.open">
        {{ meters.slower.length > 0 ? words.meterBar.chartsSlowerSinceAChange : words.meterBar.charts }}
      </button>
    </template>
  </footer>
</template>

<style scoped>
.meters {
  block-size: var(--meters-height);
  display: flex;
  align-items: center;
  gap: 24px;
  padding-inline: 14px;
  border-block-start: 1px solid var(--rule);
  background: var(--panel);
  font-size: 11.5px;
  color: var(--ink-soft);
  white-space: nowrap;
  overflow: clip;
}
b {
  font-weight: 400;
  color: var(--ink);
}
.where {
  margin-inline-start: auto;
}
.open {
  font: inherit;
  color: var(--moss-ink);
  background: none;
  border: 0;
  padding: 2px 0;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
</style>
