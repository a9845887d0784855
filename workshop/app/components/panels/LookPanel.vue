<script setup lang="ts">
import { words } from '~/words/english'
import type { Definition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'
import { sure } from '@vast-meadow/engine/client'

const grid = useOpenGrid()
const definition = computed(() => grid.now.definition)

const set = (name: string, change: Partial<Definition>): Promise<void> => {
  return grid.define(name, said({ ...definition.value, ...change }))
}
const setLook = (change: Partial<Definition['look']>): Promise<void> =>
  set('look', { look: { ...definition.value.look, ...change } })

const HEIGHTS = [
  { value: 'compact', title: words.lookPanel.compact },
  { value: 'normal', title: words.lookPanel.normal },
  { value: 'roomy', title: words.lookPanel.roomy },
  { value: 'px', title: words.lookPanel.aHeightInPx },
  { value: 'content', title: words.lookPanel.theirContent },
] as const
const height = computed(() => {
  const { density, rowHeight } = definition.value
  return rowHeight === undefined ? density : rowHeight === 'content' ? 'content' : 'px'
})
const START_PX = 48

function setHeight(value: string): void {
  if (value === 'px') void set(words.lookPanel.rowHeight, { rowHeight: START_PX })
  else if (value === 'content') void set(words.lookPanel.rowHeight, { rowHeight: 'content' })
  else void set(words.lookPanel.rowHeight, { density: value as Definition['density'], rowHeight: undefined })
}

const FITS = [
  { value: 'fill', title: words.lookPanel.allItsPlaceHas },
  { value: 'fixed', title: words.lookPanel.aHeightInPx },
  { value: 'rows', title: words.lookPanel.asItsRowsUpTo },
] as const

function setFit(kind: Definition['fit']['kind']): void {
  if (kind === 'fixed') void set(words.lookPanel.heightOfTheGrid, { fit: { kind, height: 420 } })
  else if (kind === 'rows') void set(words.lookPanel.heightOfTheGrid, { fit: { kind, most: 600 } })
  else void set(words.lookPanel.heightOfTheGrid, { fit: { kind } })
}

function setFitPx(px: number): void {
  const { fit } = definition.value
  if (!(px >= 120 && px <= 4000)) return
  if (fit.kind === 'fixed') void set(words.lookPanel.heightOfTheGrid, { fit: { ...fit, height: px } })
  if (fit.kind === 'rows') void set(words.lookPanel.heightOfTheGrid, { fit: { ...fit, most: px } })
}

function setPages(on: boolean): void {
  void set('pages', { pages: on ? { size: 50, sizes: [20, 50, 100] } : undefined })
}

/** `20, 50` and the like; what is no number is passed over. */
const sizesOf = (text: string): number[] =>
  [...new Set(text.split(/[^\d]+/).map(Number))].filter(n => n >= 1 && n <= 10_000).sort((a, b) => a - b)

function setPageSize(size: number): void {
  if (Number.isInteger(size) && size >= 1 && size <= 10_000) {
    void set('pages', { pages: { ...sure(definition.value.pages), size } })
    grid.change({ pageSize: null })
  }
}

function setTextSize(px: number): void {
  if (px >= 9 && px <= 24) void setLook({ textSize: px })
}

/** Controls are costly to make: they come group by group. */
const stage = useStages(4)
</script>

<template>
  <section>
    <h2>{{ words.lookPanel.look }}</h2>
    <p class="lead">{{ words.lookPanel.howTheGridSitsIn }}</p>

    <h3>{{ words.lookPanel.rowsAndHeight }}</h3>
    <div class="fields">
      <VSelect
        :model-value="height"
        :items="HEIGHTS"
        class="whole"
        :label="words.lookPanel.rowsAreAsHighAs"
        @update:model-value="setHeight($event)"
      />
      <VTextField
        v-if="height === 'px'"
        type="number"
        :model-value="definition.rowHeight"
        :label="words.lookPanel.rowHeightPx"
        @change="
          set(words.lookPanel.rowHeight, {
            rowHeight: Math.max(20, Math.min(400, Number($event.target.value))),
          })
        "
      />
      <VSelect
        :model-value="definition.fit.kind"
        :items="FITS"
        class="whole"
        :label="words.lookPanel.theGridIsAsHigh"
        @update:model-value="setFit($event)"
      />
      <VTextField
        v-if="definition.fit.kind !== 'fill'"
        type="number"
        :model-value="definition.fit.kind === 'fixed' ? definition.fit.height : definition.fit.most"
        :label="words.lookPanel.heightPx"
        @change="setFitPx(Number($event.target.value))"
      />
    </div>
    <p v-if="height === 'content'" class="soft hint">
      {{ words.lookPanel.columnsWhoseTextBreaksInto }}
    </p>

    <template v-if="stage > 0">
      <h3>{{ words.lookPanel.pages }}</h3>
      <VCheckbox
        :model-value="definition.pages !== undefined"
        :label="words.lookPanel.showRowsInPages"
        @update:model-value="setPages($event === true)"
      />
      <div v-if="definition.pages" class="fields">
        <VTextField
          type="number"
          :model-value="definition.pages.size"
          :label="words.lookPanel.rowsOnAPage"
          @change="setPageSize(Number($event.target.value))"
        />
        <VTextField
          :model-value="definition.pages.sizes.join(', ')"
          :label="words.lookPanel.readersChooseFrom"
          :placeholder="words.lookPanel.noChoice"
          persistent-placeholder
          @change="set('pages', { pages: { ...definition.pages!, sizes: sizesOf($event.target.value) } })"
        />
      </div>
    </template>
    <template v-if="stage > 1">
      <h3>{{ words.lookPanel.typeAndRules }}</h3>
      <div class="fields">
        <VTextField
          type="number"
          :model-value="definition.look.textSize"
          :label="words.lookPanel.typePx"
          @change="setTextSize(Number($event.target.value))"
        />
        <VSelect
          :model-value="definition.look.rules"
          :items="[
            { value: 'rows', title: words.lookPanel.betweenRows },
            { value: 'both', title: words.lookPanel.rowsAndColumns },
            { value: 'none', title: 'none' },
          ]"
          :label="words.lookPanel.rules"
          @update:model-value="setLook({ rules: $event })"
        />
      </div>
      <VCheckbox
        :model-value="definition.look.stripes"
        :label="words.lookPanel.shadeEveryOtherRow"
        @update:model-value="setLook({ stripes: $event === true })"
      />
    </template>
    <StyleRules
      v-if="stage > 2"
      :definition="definition"
      @set="set(words.lookPanel.styleRules, { styles: $event })"
    />
    <TonePalette v-if="stage > 3" :look="definition.look" @set="setLook({ palette: $event })" />
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 8px;
  padding-block-start: 5px;
}
.whole {
  grid-column: 1 / -1;
}
.hint {
  margin-block-start: 6px;
}
</style>
