<script setup lang="ts">
import { words } from '~/words'
import { searchWords, shownColumns } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { whyNot } from '~/utils/why-not'
import { formatCount, formatMs } from '~/utils/format'

const grid = useOpenGrid()
const held = computed(() => grid.report?.searchHeldBack ?? null)
const stage = computed(() => grid.report?.stages.find(stage => stage.stage === 'search'))
const refusal = computed(() => whyNot(grid.description?.can.search))
const wanted = computed(() => searchWords(grid.arrangement?.search ?? ''))
const looked = computed(() => grid.handle?.request().searchColumns ?? [])
const hiddenToo = computed(() => {
  if (!grid.arrangement) return 0
  const { start, middle, end } = shownColumns(grid.arrangement)
  const shown = [...start, ...middle, ...end]
  // Asked anew whenever something is arranged.
  return looked.value.filter(key => !shown.includes(key)).length
})
const WHERE_IT_LOOKS = [
  { searched: 'always', label: words.searchPanel.alsoWhileHidden },
  { searched: 'never', label: words.searchPanel.neverIn },
] as const

const allow = (searchable: boolean | null): void =>
  void grid.define(words.changeName.search, { ...grid.now.definition, searchable: searchable ?? false })

const startSearch = computed(() => grid.definition?.start.search ?? '')
const tried = computed(() => grid.arrangement?.search.trim() ?? '')
</script>

<template>
  <section>
    <h2>{{ words.searchPanel.search }}</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        {{
          words.searchPanel.ofRowsAreFound(formatCount(stage?.rowsOut ?? 0), formatCount(stage?.rowsIn ?? 0))
        }}
      </p>
      <VTextField
        :model-value="grid.arrangement?.search"
        :label="words.searchPanel.searchRows"
        type="search"
        clearable
        @update:model-value="grid.change({ search: $event ?? '' })"
      />
      <p class="about soft">
        {{
          words.searchPanel.eachWordMustStandSomewhere(
            formatCount(looked.length),
            hiddenToo > 0 ? words.searchPanel.ofThemHidden(hiddenToo) : '',
          )
        }}
      </p>
      <div v-if="wanted.length > 0" class="box">
        <div class="row">
          <b>{{ words.searchPanel.words }}</b><span class="push figure">{{
            stage?.fresh ? formatMs(stage.ms) : words.searchPanel.kept
          }}</span>
        </div>
        <div class="words">
          <code v-for="word in wanted" :key="word">{{ word }}</code>
        </div>
        <p v-if="held !== null" class="held alone">
          {{ words.searchPanel.holdsBack(formatCount(held)) }}
        </p>
      </div>
      <h3>{{ words.searchPanel.readersStartWith }}</h3>
      <div class="box start">
        <p>{{ startSearch ? `“${startSearch}”` : words.searchPanel.nothingSearched }}</p>
        <p class="soft">{{ words.searchPanel.whatIsSearchedHereIs }}</p>
        <div class="row">
          <VBtn size="small" :disabled="!tried || tried === startSearch" @click="grid.startSearch(tried)">{{
            words.searchPanel.startWithThisSearch
          }}</VBtn>
          <VBtn size="small" :disabled="!startSearch" @click="grid.startSearch('')">{{
            words.searchPanel.startWithNone
          }}</VBtn>
        </div>
      </div>
      <h3>{{ words.searchPanel.readersMay }}</h3>
      <VCheckbox
        :model-value="grid.definition?.searchable"
        :label="words.searchPanel.search2"
        @update:model-value="allow"
      />
      <h3>{{ words.searchPanel.whereItLooks }}</h3>
      <ColumnsThat
        :is="column => column.searched === searched"
        v-for="{ searched, label } in WHERE_IT_LOOKS"
        :key="searched"
        class="where"
        :label="label"
        what="searched columns"
        :make="(column, yes) => ({ ...column, searched: yes ? searched : 'shown' })"
      />
    </template>
  </section>
</template>

<style scoped>
.about {
  margin-block: 10px 14px;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-block-start: 8px;
}
.words code {
  background: var(--straw-tint);
  border-radius: 4px;
  padding: 1px 6px;
  font-size: 12px;
}
.alone {
  font-size: 12px;
  text-align: end;
  margin-block-start: 6px;
}
.start p + p {
  margin-block: 4px 8px;
}
.start .row {
  flex-wrap: wrap;
}
.where + .where {
  margin-block-start: 10px;
}
</style>
