<script setup lang="ts">
import { words } from '~/words'
import { GRID_LANGUAGES, usualLocale } from '~/words/grid-languages'
import type { Definition } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { said } from '~/utils/said'

const grid = useOpenGrid()
const definition = computed(() => grid.now.definition)

const set = (name: string, change: Partial<Definition>): Promise<void> => {
  return grid.define(name, said({ ...definition.value, ...change }))
}
const setLook = (change: Partial<Definition['look']>): Promise<void> =>
  set(words.changeName.look, { look: { ...definition.value.look, ...change } })

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

/** The languages that the grid speaks, and the one that its definition came with. */
const locales = computed(() => {
  const known = Object.values(GRID_LANGUAGES).map(({ locale, name }) => ({
    value: locale as string,
    title: name,
  }))
  const { locale } = definition.value
  return locale === undefined || known.some(({ value }) => value === locale)
    ? known
    : [...known, { value: locale, title: locale }]
})
const setLocale = (locale: string): Promise<void> =>
  set(words.changeName.language, {
    locale: locale === GRID_LANGUAGES.en.locale && usualLocale === undefined ? undefined : locale,
  })

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

    <VSelect
      :model-value="definition.locale ?? usualLocale ?? GRID_LANGUAGES.en.locale"
      :items="locales"
      class="language"
      :label="words.lookPanel.language"
      :title="words.lookPanel.languageMeans"
      @update:model-value="setLocale($event)"
    />

    <h3>{{ words.lookPanel.rowsAndHeight }}</h3>
    <div class="fields">
      <RowHeights />
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

    <template v-if="stage > 0">
      <h3>{{ words.lookPanel.pages }}</h3>
      <PageSettings />
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
            { value: 'none', title: words.lookPanel.noRules },
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
.language {
  margin-block-start: 10px;
}
.whole {
  grid-column: 1 / -1;
}
.hint {
  margin-block-start: 6px;
}
</style>
