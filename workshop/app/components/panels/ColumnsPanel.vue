<script setup lang="ts">
import { words } from '~/words/english'
import { addComputed, addField, withColumns, withoutColumn } from '~/columns/column-edits'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

const LISTED = 120
/** Columns that are listed a frame more, so that none is held long. */
const AT_ONCE = 6
const grid = useOpenGrid()
const find = ref('')
const stage = useStages(LISTED / AT_ONCE)
const picking = ref(false)
const picked = ref(new Set<string>())

const columns = computed(() => {
  const { arrangement, definition, description } = grid
  if (!arrangement || !definition || !description) return []
  const types = new Map(description.fields.map(field => [field.key, field.type]))
  const computedKeys = new Set(
    definition.columns.filter(({ expression }) => expression !== undefined).map(({ key }) => key),
  )
  return arrangement.columns.map(key => ({
    key,
    title: grid.titleOf(key),
    type:
      types.get(key) ??
      (computedKeys.has(key) ? words.columnsPanel.notRightYet : words.columnsPanel.notInTheData),
    computed: computedKeys.has(key),
    shown: !arrangement.hidden.includes(key),
    pinned: arrangement.pinnedStart.includes(key),
  }))
})
const matching = computed(() => {
  const wanted = find.value?.trim().toLowerCase() ?? ''
  return columns.value.filter(column => column.title.toLowerCase().includes(wanted))
})
const shownCount = computed(() => columns.value.filter(column => column.shown).length)
const open = computed(() => grid.definition?.columns.find(({ key }) => key === grid.column) ?? null)
/** Fields that no column shows, as far as they are looked for. */
const free = computed(() => {
  const used = new Set(grid.definition?.columns.map(({ key }) => key))
  const wanted = find.value?.trim().toLowerCase() ?? ''
  return grid.ownFields
    .filter(({ key }) => !used.has(key) && key.toLowerCase().includes(wanted))
    .slice(0, LISTED)
})
const chosen = computed(() => [...picked.value])

const others = (list: readonly string[], keys: readonly string[]): string[] =>
  list.filter(key => !keys.includes(key))

function show(keys: readonly string[], shown: boolean): void {
  const rest = others(grid.now.arrangement.hidden, keys)
  grid.change({ hidden: shown ? rest : [...rest, ...keys] })
}

function pin(keys: readonly string[], pinned: boolean): void {
  const { pinnedStart, pinnedEnd } = grid.now.arrangement
  const rest = others(pinnedStart, keys)
  grid.change({ pinnedStart: pinned ? [...rest, ...keys] : rest, pinnedEnd: others(pinnedEnd, keys) })
}

function widen(width: number): void {
  if (!(width >= 32 && width <= 2000)) return
  const widths = Object.fromEntries(chosen.value.map(key => [key, width]))
  grid.change({ widths: { ...grid.now.arrangement.widths, ...widths } })
}

const align = (to: 'start' | 'center' | 'end'): Promise<void> =>
  grid.define('alignment', withColumns(grid.now.definition, chosen.value, { align: to }))

function pick(key: string, on: boolean): void {
  const next = new Set(picked.value)
  if (on) next.add(key)
  else next.delete(key)
  picked.value = next
}

async function add(key: string): Promise<void> {
  const field = grid.ownFields.find(other => other.key === key)
  if (!field) return
  const samples = grid.now.description.samples[grid.now.description.fields.indexOf(field)] ?? []
  await grid.define(words.columnsPanel.newColumn, addField(grid.now.definition, field, samples))
  grid.openColumn(field.key)
}

async function compute(): Promise<void> {
  const { definition, key } = addComputed(grid.now.definition, grid.ownFields)
  await grid.define(words.columnsPanel.newColumn, definition)
  grid.openColumn(key)
}

async function remove(key: string): Promise<void> {
  grid.column = null
  await grid.define(words.columnsPanel.columnTakenOut, withoutColumn(grid.now.definition, key))
}
</script>

<template>
  <ColumnSettings v-if="open" :key="open.key" :column="open" @remove="remove(open.key)" />
  <section v-else>
    <h2>{{ words.columnsPanel.columns }}</h2>
    <p class="lead">
      {{ words.columnsPanel.ofAreShown(formatCount(shownCount), formatCount(columns.length)) }}
    </p>
    <div class="tools">
      <VBtn size="small" @click="compute">{{ words.columnsPanel.addAComputedColumn }}</VBtn>
      <VBtn size="small" :aria-pressed="picking" @click="picking = !picking">{{
        words.columnsPanel.changeSeveral
      }}</VBtn>
    </div>
    <div
      v-if="picking"
      class="box several"
      role="group"
      :aria-label="words.columnsPanel.changeThePickedColumns"
    >
      <p class="row">
        <b>{{ words.columnsPanel.picked(formatCount(chosen.length)) }}</b>
        <button
          type="button"
          class="link-button push"
          @click="picked = new Set(matching.map(({ key }) => key))"
        >
          {{ words.columnsPanel.allListed }}
        </button>
        <button type="button" class="link-button" @click="picked = new Set()">
          {{ words.columnsPanel.none }}
        </button>
      </p>
      <div class="tools">
        <VBtn size="small" :disabled="chosen.length === 0" @click="show(chosen, true)">{{
          words.columnsPanel.show
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="show(chosen, false)">{{
          words.columnsPanel.hide
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="pin(chosen, true)">{{
          words.columnsPanel.pin
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="pin(chosen, false)">{{
          words.columnsPanel.unpin
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="align('start')">{{
          words.columnsPanel.alignAtTheStart
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="align('end')">{{
          words.columnsPanel.alignAtTheEnd
        }}</VBtn>
      </div>
      <VTextField
        type="number"
        :label="words.columnsPanel.widthOfEachPx"
        :disabled="chosen.length === 0"
        @change="widen(Number($event.target.value))"
      />
    </div>
    <VTextField v-model="find" :label="words.columnsPanel.findAColumn" type="search" clearable />
    <ul class="columns">
      <ColumnItem
        v-for="column in matching.slice(0, stage * AT_ONCE)"
        :key="column.key"
        :column="column"
        :picking="picking"
        :picked="picked.has(column.key)"
        @show="show([column.key], $event)"
        @pin="pin([column.key], $event)"
        @pick="pick(column.key, $event)"
      />
      <li v-for="field in free" :key="`field ${field.key}`" class="free">
        <span class="name">
          <span>{{ field.key }}</span>
          <span class="soft figure">{{ words.columnsPanel.noColumn(field.type) }}</span>
        </span>
        <VBtn
          size="small"
          :aria-label="words.columnsPanel.addAColumnFor(field.key)"
          @click="add(field.key)"
          >{{ words.columnsPanel.add }}</VBtn
        >
      </li>
    </ul>
    <p v-if="matching.length > LISTED" class="soft">
      {{ words.columnsPanel.moreTypeToFindThem(formatCount(matching.length - LISTED)) }}
    </p>
    <p v-if="matching.length + free.length === 0" class="soft">
      {{ words.columnsPanel.noColumnHasThatTitle }}
    </p>
  </section>
</template>

<style scoped>
.columns {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-block-end: 10px;
}
.free {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 6px;
  block-size: 40px;
  padding-inline-start: 36px;
  border-block-end: 1px solid var(--rule-soft);
}
.free .name {
  display: grid;
  padding-inline: 4px;
  min-inline-size: 0;
}
.free .figure {
  font-size: 10.5px;
}
.several {
  display: grid;
  gap: 8px;
}
.several .tools {
  margin: 0;
}
[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
</style>
