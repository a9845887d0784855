<script setup lang="ts">
import { words } from '~/words'
import type { DetailDefinition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'

/** What rows show when they are opened. */
const grid = useOpenGrid()
const detail = computed(() => grid.definition?.detail)
const columns = computed(() =>
  (grid.definition?.columns ?? []).map(({ key, title }) => ({ value: key, title: title || key })),
)
const SHOWN = [
  { value: 'hidden', title: words.detailSettings.shows.hidden },
  { value: 'columns', title: words.detailSettings.shows.columns },
  { value: 'painter', title: words.detailSettings.shows.painter },
] as const
type Shown = (typeof SHOWN)[number]['value']
const shows = computed<Shown>(() =>
  detail.value?.painter !== undefined ? 'painter' : detail.value?.columns ? 'columns' : 'hidden',
)
/** Every column stands in the row itself, and none gives way. */
const nothingMore = computed(
  () =>
    grid.arrangement?.hidden.length === 0 &&
    !grid.definition?.columns.some(({ giveWay }) => giveWay !== undefined),
)
const USUAL_NAME = 'detail'

function set(next: DetailDefinition | undefined): void {
  void grid.define(words.detailSettings.details, said({ ...grid.now.definition, detail: next }))
}
const change = (part: Partial<DetailDefinition>): void =>
  set(said({ several: true, ...detail.value, ...part }))
function show(what: Shown): void {
  if (what === 'hidden') change({ painter: undefined, columns: undefined })
  else if (what === 'columns')
    change({ painter: undefined, columns: columns.value.map(({ value }) => value) })
  else change({ painter: USUAL_NAME, columns: undefined })
}
</script>

<template>
  <div class="settings">
    <VCheckbox
      :model-value="detail !== undefined"
      :label="words.detailSettings.rowsOpen"
      @update:model-value="set($event ? { several: true } : undefined)"
    />
    <template v-if="detail">
      <VSelect
        :model-value="shows"
        :items="SHOWN"
        :label="words.detailSettings.openRowsShow"
        @update:model-value="show($event)"
      />
      <VAutocomplete
        v-if="shows === 'columns'"
        :model-value="detail.columns"
        :items="columns"
        :label="words.detailSettings.theseColumns"
        multiple
        @update:model-value="change({ columns: $event })"
      />
      <p v-if="shows === 'hidden' && nothingMore" class="soft">
        {{ words.detailSettings.nothingMore }}
      </p>
      <template v-if="shows === 'painter'">
        <VTextField
          :model-value="detail.painter"
          :label="words.detailSettings.nameInCode"
          @change="$event.target.value && change({ painter: $event.target.value })"
        />
        <p class="soft">{{ words.detailSettings.yourPageDraws(detail.painter ?? '') }}</p>
      </template>
      <VCheckbox
        :model-value="detail.several"
        :label="words.detailSettings.severalAtOnce"
        @update:model-value="change({ several: $event === true })"
      />
    </template>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  gap: 12px;
}
</style>
