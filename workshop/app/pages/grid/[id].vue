<script setup lang="ts">
import { useMeters } from '~/stores/meters'
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const meters = useMeters()
const route = useRoute()
const found = ref<boolean | null>(null)

watch(
  () => route.params.id as string,
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
    @file="grid.replaceFile($event)"
  >
    <TopBar />
    <template v-if="grid.mode === 'build'">
      <FlowRail />
      <StagePanel v-if="grid.panel" :name="grid.panel" />
    </template>
    <main class="place">
      <GridFrame v-if="grid.input && grid.saved" :key="grid.saved.id" />
      <NeedsFile v-else-if="grid.needsFile" />
      <p v-else-if="found === false" class="gone">
        This grid is not on the shelf of this browser. <NuxtLink to="/">To the shelf</NuxtLink>
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
.place {
  grid-column: 3;
  padding: 10px 12px;
  min-inline-size: 0;
  min-block-size: 0;
}
.gone {
  display: grid;
  place-content: center;
  justify-items: center;
  block-size: 100%;
  gap: 8px;
}
@media (max-width: 820px) {
  .workshop,
  .workshop.wide {
    --flow-width: 112px;
  }
}
@media (max-width: 640px) {
  .workshop,
  .workshop.wide {
    grid-template-columns: var(--flow-width) 0 minmax(0, 1fr);
  }
}
</style>
