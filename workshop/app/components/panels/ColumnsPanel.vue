<script setup lang="ts">
import { typeName } from '~/utils/type-name'
import { words } from '~/words'
import { columnsMoved, partOf, type ColumnPart, type Definition } from '@vast-meadow/engine'
import { addComputed, addField, withColumns, withoutColumn } from '~/columns/column-edits'
import { headingLines, underHeading } from '~/columns/heading-edits'
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
  const types = new Map(description.fields.map(field => [field.key, typeName(field.type)]))
  const computedKeys = new Set(
    definition.columns.filter(({ expression }) => expression !== undefined).map(({ key }) => key),
  )
  const loose = arrangement.columns.filter(key => partOf(arrangement, key) === 'middle')
  return [...arrangement.pinnedStart, ...loose, ...arrangement.pinnedEnd].map(key => ({
    key,
    title: grid.titleOf(key),
    type:
      types.get(key) ??
      (computedKeys.has(key) ? words.columnsPanel.notRightYet : words.columnsPanel.notInTheData),
    computed: computedKeys.has(key),
    shown: !arrangement.hidden.includes(key),
    part: partOf(arrangement, key),
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

function pin(keys: readonly string[], part: ColumnPart): void {
  grid.change(columnsMoved(grid.now.arrangement, keys, { part, before: null }))
}

/** A column takes the place of another one, in whose part it stands then. */
function place(from: number, to: number): void {
  const [moved, target] = [matching.value[from], matching.value[to]]
  if (!moved || !target) return
  const there = columns.value.filter(({ part }) => part === target.part).map(({ key }) => key)
  const before = to > from ? (there[there.indexOf(target.key) + 1] ?? null) : target.key
  grid.change(columnsMoved(grid.now.arrangement, [moved.key], { part: target.part, before }))
}
const list = useTemplateRef<HTMLElement>('list')
const { dragged, over, grab, nudge, drop: letGo } = useDragList(list, () => matching.value.length, place)

const heading = ref('')
const headings = computed(() => grid.definition?.headings.map(({ title }) => title) ?? [])
const lines = computed(() =>
  grid.definition
    ? headingLines(
        grid.definition,
        matching.value.map(({ key }) => key),
      )
    : new Map<string, never>(),
)
const putUnder = (): Promise<void> =>
  grid.define(
    words.columnsPanel.aSharedHeading,
    underHeading(grid.now.definition, chosen.value, heading.value ?? ''),
  )

function share(text: string): void {
  const part = text.trim() === '' ? undefined : Number(text)
  if (part !== undefined && !(part > 0 && part <= 1000)) return
  void grid.define(words.changeName.share, withColumns(grid.now.definition, chosen.value, { share: part }))
}

/** What readers may do with columns and arrangements, by the name that the definition has for it. */
const MAY = [
  ['movable', words.columnsPanel.putElsewhere],
  ['pinRows', words.columnsPanel.pinRows],
  ['arrangements', words.columnsPanel.keepArrangements],
  ['undo', words.columnsPanel.buttonsToTakeBack],
  ['map', words.columnsPanel.seeTheMap],
] as const
const may = (change: Partial<Definition>): void =>
  void grid.define(words.columnsPanel.whatReadersMay, { ...grid.now.definition, ...change })

function widen(width: number): void {
  if (!(width >= 32 && width <= 2000)) return
  const widths = Object.fromEntries(chosen.value.map(key => [key, width]))
  grid.change({ widths: { ...grid.now.arrangement.widths, ...widths } })
}

const align = (to: 'start' | 'center' | 'end'): Promise<void> =>
  grid.define(words.changeName.alignment, withColumns(grid.now.definition, chosen.value, { align: to }))

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
        <VBtn size="small" :disabled="chosen.length === 0" @click="pin(chosen, 'start')">{{
          words.columnsPanel.pinAtTheStart
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="pin(chosen, 'end')">{{
          words.columnsPanel.pinAtTheEnd
        }}</VBtn>
        <VBtn size="small" :disabled="chosen.length === 0" @click="pin(chosen, 'middle')">{{
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
      <VTextField
        type="number"
        :label="words.columnsPanel.shareOfEach"
        :disabled="chosen.length === 0"
        @change="share($event.target.value)"
      />
      <form class="under" @submit.prevent="putUnder">
        <VCombobox
          v-model="heading"
          :items="headings"
          :label="words.columnsPanel.sharedHeading"
          :disabled="chosen.length === 0"
        />
        <VBtn size="small" type="submit" :disabled="chosen.length === 0">{{
          words.columnsPanel.putUnder
        }}</VBtn>
      </form>
    </div>
    <VTextField v-model="find" :label="words.columnsPanel.findAColumn" type="search" clearable />
    <ul ref="list" class="columns" @pointermove="over" @pointerup="letGo" @pointercancel="letGo">
      <ColumnItem
        v-for="(column, nth) in matching.slice(0, stage * AT_ONCE)"
        :key="column.key"
        :column="column"
        :picking="picking"
        :picked="picked.has(column.key)"
        :dragged="dragged === nth"
        @show="show([column.key], $event)"
        @pin="pin([column.key], $event)"
        @pick="pick(column.key, $event)"
        @grab="grab($event, nth)"
        @nudge="nudge($event, nth)"
      >
        <HeadingItem
          v-for="line in lines.get(column.key) ?? []"
          :key="line.heading.key"
          :heading="line.heading"
          :level="line.level"
        />
      </ColumnItem>
    </ul>
    <ul class="columns">
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
    <h3>{{ words.columnsPanel.readersMay }}</h3>
    <VCheckbox
      v-for="[name, label] in MAY"
      :key="name"
      :model-value="grid.definition?.[name]"
      :label="label"
      @update:model-value="may({ [name]: $event === true })"
    />
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
.under {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
}
[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
</style>
