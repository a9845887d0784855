<script setup lang="ts">
import { VastMeadow } from '@vast-meadow/vue'
import { exportGrid } from '~/handover/export-grid'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
const component = useTemplateRef<{ handle: Parameters<typeof grid.attach>[0] | null }>('component')

watch(
  () => component.value?.handle,
  handle => handle && grid.attach(handle),
)

/** As they were when the grid was opened; later ones come from the grid itself. */
const definition = grid.saved?.definition ?? undefined
const arrangement = grid.saved?.arrangement ?? undefined

async function exported(): Promise<void> {
  const present = grid.present()
  if (present) await exportGrid(present, (await grid.fileForHandover().catch(() => null)) ?? undefined)
}
</script>

<template>
  <div class="frame">
    <VastMeadow
      ref="component"
      class="grid"
      :definition="definition"
      :arrangement="arrangement"
      :source="grid.input!"
      @open="grid.opened($event.description)"
      @progress="grid.progress = $event"
      @problem="grid.problem = $event.message"
      @flow="grid.flowed($event.report)"
      @arrangement="grid.arranged($event.arrangement, $event.why)"
      @selection="grid.selected = $event.count"
      @measures="grid.measures = $event"
    />
    <div v-if="grid.progress" :class="grid.report ? 'strip' : 'cancel'">
      <template v-if="grid.report">
        <span>{{ grid.progress.doing }}</span>
        <VProgressLinear
          :model-value="grid.progress.done"
          :max="grid.progress.of"
          color="primary"
          :aria-label="grid.progress.doing"
        />
        <span class="figure">
          {{ formatCount(grid.progress.done) }} of {{ formatCount(grid.progress.of) }}
          {{ grid.progress.unit }}
        </span>
      </template>
      <VBtn size="small" @click="grid.cancelLoading()">Cancel</VBtn>
    </div>
    <p v-if="grid.saveProblem" class="problem not-saved" role="alert">
      <span>Not saved. {{ grid.saveProblem }}</span>
      <VBtn size="small" @click="exported">Export the grid</VBtn>
    </p>
    <p v-if="grid.problem && grid.report" class="problem" role="alert">
      <span>{{ grid.problem }}</span>
      <span class="soft"
        >The grid of {{ formatCount(grid.report.total) }} rows that was open is still here.</span
      >
      <VBtn size="small" @click="grid.problem = ''">Dismiss</VBtn>
    </p>
  </div>
</template>

<style scoped>
.frame {
  position: relative;
  block-size: 100%;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  overflow: clip;
  box-shadow: 0 10px 30px -24px #0009;
  --meadow-paper: var(--sheet);
  --meadow-panel: light-dark(#f7f5ea, #1e2421);
  --meadow-ink: var(--ink);
  --meadow-faint: var(--ink-soft);
  --meadow-rule: var(--rule);
  --meadow-rule-soft: var(--rule-soft);
  --meadow-on: var(--moss);
  --meadow-on-tint: var(--moss-tint);
  --meadow-on-ink: var(--moss-ink);
  --meadow-selected-mark: var(--cornflower);
  --meadow-held: var(--poppy);
  --meadow-font: var(--font-text);
  --meadow-font-code: var(--font-code);
}
.cancel {
  position: absolute;
  inset-block-start: calc(50% + 70px);
  inset-inline: 0;
  display: grid;
  justify-content: center;
  z-index: 3;
}
.strip {
  position: absolute;
  inset-block-end: 0;
  inset-inline: 0;
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 8px 14px;
  white-space: nowrap;
  background: var(--panel);
  border-block-start: 1px solid var(--rule);
  z-index: 4;
}
.problem {
  position: absolute;
  inset-block-end: 44px;
  inset-inline: 16px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  padding: 10px 14px;
  border: 1px solid var(--poppy);
  border-radius: var(--radius);
  background: var(--sheet);
  color: var(--poppy);
  z-index: 4;
}
</style>
