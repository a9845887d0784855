<script setup lang="ts">
import { words } from '~/words'
import { max, sum } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { useOpenGrid } from '~/stores/open-grid'
import { formatBytes } from '~/utils/format'

/** Where the table's memory is: the columns that take most of it. */
const grid = useOpenGrid()
const SHOWN = 6

const columns = computed(() => {
  const all = Object.entries(grid.description?.columnBytes ?? {}).map(([key, bytes]) => ({
    title: grid.titleOf(key),
    bytes,
  }))
  return all.sort((a, b) => b.bytes - a.bytes)
})
const share = computed(() => scaleLinear([0, max(columns.value, ({ bytes }) => bytes) || 1], [0, 100]))
const rest = computed(() => sum(columns.value.slice(SHOWN), ({ bytes }) => bytes))
</script>

<template>
  <figure>
    <figcaption>
      <b>{{ words.columnBytes.memoryByColumn }}</b>
      <span class="soft">{{ formatBytes(grid.description?.bytes ?? 0) }}</span>
    </figcaption>
    <ul class="bytes">
      <li v-for="{ title, bytes } in columns.slice(0, SHOWN)" :key="title">
        <span class="name">{{ title }}</span>
        <i :style="{ inlineSize: `${share(bytes)}%` }" />
        <span class="figure">{{ formatBytes(bytes) }}</span>
      </li>
      <li v-if="rest > 0" class="soft">
        <span class="name">{{ words.columnBytes.more(columns.length - SHOWN) }}</span><i /><span
          class="figure"
          >{{ formatBytes(rest) }}</span
        >
      </li>
    </ul>
  </figure>
</template>

<style scoped>
.bytes {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 11.5px;
}
.bytes li {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr) 62px;
  gap: 8px;
  align-items: center;
  line-height: 17px;
}
.bytes .name {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bytes i {
  block-size: 6px;
  border-radius: 2px;
  background: var(--moss-stream);
}
.bytes .figure {
  text-align: end;
}
</style>
