<script setup lang="ts">
import { searchWords, shownColumns } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { whyNot } from '~/utils/why-not'
import { formatCount, formatMs } from '~/utils/format'

const grid = useOpenGrid()
const stage = computed(() => grid.report?.stages.find(stage => stage.stage === 'search'))
const refusal = computed(() => whyNot(grid.description?.can.search))
const words = computed(() => searchWords(grid.arrangement?.search ?? ''))
const looked = computed(() => grid.handle?.request().searchColumns ?? [])
const hiddenToo = computed(() => {
  if (!grid.arrangement) return 0
  const { start, middle, end } = shownColumns(grid.arrangement)
  const shown = [...start, ...middle, ...end]
  // Asked anew whenever something is arranged.
  return looked.value.filter(key => !shown.includes(key)).length
})
const WHERE_IT_LOOKS = [
  { searched: 'always', label: 'also while hidden' },
  { searched: 'never', label: 'never in' },
] as const

const allow = (searchable: boolean | null): void =>
  void grid.define('search', { ...grid.now.definition, searchable: searchable ?? false })

const startSearch = computed(() => grid.definition?.start.search ?? '')
const tried = computed(() => grid.arrangement?.search.trim() ?? '')
</script>

<template>
  <section>
    <h2>Search</h2>
    <p v-if="refusal" class="lead">{{ refusal }}</p>
    <template v-else>
      <p class="lead">
        {{ formatCount(stage?.rowsOut ?? 0) }} of {{ formatCount(stage?.rowsIn ?? 0) }} rows are found.
      </p>
      <VTextField
        :model-value="grid.arrangement?.search"
        label="Search rows"
        type="search"
        clearable
        @update:model-value="grid.change({ search: $event ?? '' })"
      />
      <p class="about soft">
        Each word must stand somewhere in the row’s shown text; “double quotes” hold words together. Case and
        accents do not matter. It looks in {{ formatCount(looked.length) }} columns{{
          hiddenToo > 0 ? `, ${hiddenToo} of them hidden` : ''
        }}.
      </p>
      <div v-if="words.length > 0" class="box">
        <div class="row">
          <b>Words</b><span class="push figure">{{ stage?.fresh ? formatMs(stage.ms) : 'kept' }}</span>
        </div>
        <div class="words">
          <code v-for="word in words" :key="word">{{ word }}</code>
        </div>
        <p class="held alone">holds back {{ formatCount(grid.report?.searchHeldBack ?? 0) }}</p>
      </div>
      <h3>Readers start with</h3>
      <div class="box start">
        <p>{{ startSearch ? `“${startSearch}”` : 'nothing searched' }}</p>
        <p class="soft">What is searched here is only tried; it ships where you say so.</p>
        <div class="row">
          <VBtn size="small" :disabled="!tried || tried === startSearch" @click="grid.startSearch(tried)"
            >Start with this search</VBtn
          >
          <VBtn size="small" :disabled="!startSearch" @click="grid.startSearch('')">Start with none</VBtn>
        </div>
      </div>
      <h3>Readers may</h3>
      <VCheckbox :model-value="grid.definition?.searchable" label="search" @update:model-value="allow" />
      <h3>Where it looks</h3>
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
