<script setup lang="ts">
import { words } from '~/words'
import { useMeters } from '~/stores/meters'
import { useOpenGrid } from '~/stores/open-grid'
import { usePreferences } from '~/stores/preferences'

const grid = useOpenGrid()
const meters = useMeters()
const preferences = usePreferences()
const route = useRoute()
const found = ref<boolean | null>(null)

watch(
  () => String(route.params.id),
  async id => {
    found.value = await grid.load(id)
  },
  { immediate: true },
)

const leaving = (): void => grid.saveNow()
onMounted(() => window.addEventListener('pagehide', leaving))
onBeforeUnmount(() => {
  window.removeEventListener('pagehide', leaving)
  grid.close()
})
</script>

<template>
  <FileDrop
    class="workshop"
    :class="{ wide: grid.panel === null, use: grid.mode === 'use' }"
    :style="{ '--panel-width': `${preferences.panelWidth}px` }"
    @file="grid.replaceFile($event)"
  >
    <TopBar />
    <template v-if="grid.mode === 'build'">
      <FlowRail />
      <StagePanel v-if="grid.panel" class="side" :name="grid.panel" />
    </template>
    <main class="place">
      <ReaderStrip v-if="grid.mode === 'use'" />
      <GridFrame v-if="grid.input && grid.saved" :key="grid.saved.id" />
      <NeedsFile v-else-if="grid.needsFile" />
      <p v-else-if="found === false" class="gone">
        {{ words.gridPage.thisGridIsNotOn }} <NuxtLink to="/">{{ words.gridPage.toTheShelf }}</NuxtLink>
      </p>
    </main>
    <div class="measuring">
      <MeterCharts v-if="meters.open" />
      <MeterBar />
    </div>
  </FileDrop>
</template>

<style scoped>
.workshop {
  block-size: 100%;
  display: grid;
  grid-template:
    var(--top-height) minmax(0, 1fr) auto / var(--flow-width) var(--panel-width)
    minmax(0, 1fr);
}
.workshop.wide {
  grid-template-columns: var(--flow-width) 0 minmax(0, 1fr);
}
.workshop.use {
  grid-template-columns: 0 0 minmax(0, 1fr);
}
.workshop > :deep(.top),
.measuring {
  grid-column: 1 / -1;
}
.side {
  grid-area: 2 / 2 / 3 / 3;
  position: relative;
  min-inline-size: 0;
  min-block-size: 0;
}
.side > :deep(.panel) {
  block-size: 100%;
}
.place {
  grid-area: 2 / 3 / 3 / 4;
  padding: 10px 12px;
  min-inline-size: 0;
  min-block-size: 0;
  display: flex;
  flex-direction: column;
}
.place > :deep(:last-child) {
  flex: 1;
  min-block-size: 0;
}
.gone {
  display: grid;
  place-content: center;
  justify-items: center;
  block-size: 100%;
  gap: 8px;
}
/* Where there is little room, the grid keeps it and the panel lies over its start. */
@media (max-width: 1100px) {
  .workshop {
    grid-template-columns: var(--flow-width) 0 minmax(0, 1fr);
  }
  .side {
    grid-area: 2 / 2 / 3 / -1;
    justify-self: start;
    inline-size: min(var(--panel-width), 100%);
    z-index: 5;
    box-shadow: 14px 0 30px -18px #0009;
  }
}
@media (max-width: 820px) {
  .workshop,
  .workshop.wide {
    --flow-width: var(--flow-narrow);
  }
}
@media (max-width: 640px) {
  .side {
    inline-size: 100%;
  }
}
</style>
