<script setup lang="ts">
import { words } from '~/words'
import { isAble, type ColumnDefinition } from '@vast-meadow/engine'
import { withColumn } from '~/columns/column-edits'
import { useOpenGrid } from '~/stores/open-grid'
import { useProfiles } from '~/stores/profiles'

/** Everything that is settled about one column, with what it comes to in the first rows. */
const { column } = defineProps<{ column: ColumnDefinition }>()
const emit = defineEmits<{ remove: [] }>()
const EXAMPLES = 5

const grid = useOpenGrid()
const profiles = useProfiles()
const examples = shallowRef<readonly string[]>([])

const field = computed(() => grid.description?.fields.find(({ key }) => key === column.key) ?? null)
const profile = computed(() => profiles.known.get(column.key) ?? null)
const width = computed(() => grid.arrangement?.widths[column.key] ?? column.width)
const side = computed(() => {
  const { pinnedStart = [], pinnedEnd = [] } = grid.arrangement ?? {}
  return pinnedStart.includes(column.key) ? 'start' : pinnedEnd.includes(column.key) ? 'end' : 'none'
})
const shown = computed(() => !grid.arrangement?.hidden.includes(column.key))
/** An expression reads all fields but its own. */
const readable = computed(() => grid.description?.fields.filter(({ key }) => key !== column.key) ?? [])

const told = computed(() => isAble(grid.description?.can.questions, 'profile'))
/** What is known of a column comes later than its settings; its room is there from the start. */
const roomFor = computed(() =>
  ['integer', 'number', 'date', 'time', 'datetime'].includes(field.value?.type ?? '') ? 'bars' : 'values',
)
/** Controls are costly to make: they come group by group. */
const stage = useStages(7)

watchEffect(() => {
  if (told.value) profiles.want(column.key, profiles.generation)
})
watch(
  [() => column, () => grid.report, () => grid.definition],
  async () => {
    const [key, handle] = [column.key, grid.handle]
    const texts = await handle?.textsOfFirstRows([key], EXAMPLES)
    if (texts && column.key === key) examples.value = texts.map(([text]) => text ?? '')
  },
  { immediate: true },
)

const set = (change: Partial<ColumnDefinition>): Promise<void> =>
  grid.define(
    words.columnSettings.settingsOf(column.title || column.key),
    withColumn(grid.now.definition, column.key, change),
  )

const numberOr = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text))

function place(side: string): void {
  const without = (list: readonly string[]): string[] => list.filter(key => key !== column.key)
  const { pinnedStart, pinnedEnd } = grid.now.arrangement
  grid.change({
    pinnedStart: side === 'start' ? [...without(pinnedStart), column.key] : without(pinnedStart),
    pinnedEnd: side === 'end' ? [...without(pinnedEnd), column.key] : without(pinnedEnd),
  })
}

function show(on: boolean): void {
  const rest = grid.now.arrangement.hidden.filter(key => key !== column.key)
  grid.change({ hidden: on ? rest : [...rest, column.key] })
}

function resize(px: number): void {
  if (px >= 32 && px <= 2000) grid.change({ widths: { ...grid.now.arrangement.widths, [column.key]: px } })
}

/** A limit outside what can be a width is not taken. */
function limit(name: 'minWidth' | 'maxWidth', text: string): void {
  const px = numberOr(text)
  if (px === undefined || (px >= 24 && px <= 2000)) void set({ [name]: px })
}

/** A share begins once no width stands in its way. */
function share(text: string): void {
  const part = numberOr(text)
  if (part !== undefined && !(part > 0 && part <= 1000)) return
  void set({ share: part })
  const { [column.key]: width, ...others } = grid.now.arrangement.widths
  if (part !== undefined && width !== undefined) grid.change({ widths: others })
}

const SIDES = [
  { value: 'none', title: words.columnSettings.notPinned },
  { value: 'start', title: words.columnSettings.atTheStart },
  { value: 'end', title: words.columnSettings.atTheEnd },
] as const
const ALIGNMENTS = [
  { value: 'start', title: words.columnSettings.start },
  { value: 'center', title: words.columnSettings.middle },
  { value: 'end', title: words.columnSettings.end },
] as const
</script>

<template>
  <section class="settings">
    <button type="button" class="link-button back" @click="grid.column = null">
      {{ words.columnSettings.allColumns }}
    </button>
    <h2>{{ column.title || column.key }}</h2>
    <p class="lead">
      <template v-if="column.expression === undefined">
        {{ words.columnSettings.theField }} <code>{{ column.key }}</code>{{
          field ? `, ${field.type}` : words.columnSettings.whichTheRowsDoNot
        }}
      </template>
      <template v-else>{{ words.columnSettings.computed(field ? `, ${field.type}` : '') }}</template>
    </p>

    <div class="box" :aria-label="words.columnSettings.inTheFirstRows" role="group">
      <h3>{{ words.columnSettings.inTheFirstRows }}</h3>
      <ul class="examples" :class="column.align">
        <li v-for="(text, i) in examples" :key="i">
          <template v-if="text">{{ text }}</template>
          <i v-else class="soft">{{ words.columnSettings.missing }}</i>
        </li>
      </ul>
      <div v-if="told" class="holding" :class="roomFor">
        <ColumnProfile :profile="profile" wide />
      </div>
    </div>

    <div v-if="stage > 0" class="fields">
      <VTextField
        :model-value="column.title"
        :label="words.columnSettings.title"
        class="whole"
        @change="set({ title: $event.target.value })"
      />
      <ExpressionField
        v-if="column.expression !== undefined"
        class="whole"
        :model-value="column.expression"
        :fields="readable"
        :label="words.columnSettings.expression"
        @update:model-value="set({ expression: $event })"
      />
      <VTextField
        :model-value="column.help ?? ''"
        :label="words.columnSettings.helpAtTheHeading"
        class="whole"
        @change="set({ help: $event.target.value || undefined })"
      />
    </div>

    <FormatSettings v-if="stage > 1" :column="column" :field="field" @set="set({ format: $event })" />
    <CellSettings v-if="stage > 2" :column="column" :field="field" @set="set($event)" />

    <h3 v-if="stage > 3">{{ words.columnSettings.place }}</h3>
    <div v-if="stage > 3" class="fields">
      <VSelect
        :model-value="column.align"
        :items="ALIGNMENTS"
        :label="words.columnSettings.valuesStandAtThe"
        @update:model-value="set({ align: $event })"
      />
      <VSelect
        :model-value="side"
        :items="SIDES"
        :label="words.columnSettings.pinned"
        @update:model-value="place($event)"
      />
      <template v-if="stage > 4">
        <VTextField
          type="number"
          :model-value="width"
          :label="words.columnSettings.widthPx"
          @change="resize(Number($event.target.value))"
        />
        <VTextField
          type="number"
          :model-value="column.share ?? ''"
          :label="words.columnSettings.share"
          :title="words.columnSettings.shareMeans"
          @change="share($event.target.value)"
        />
        <VTextField
          type="number"
          :model-value="column.giveWay ?? ''"
          :label="words.columnSettings.leftOutWhenNarrowRank"
          :title="words.columnSettings.whereThereIsNoRoom"
          @change="set({ giveWay: numberOr($event.target.value) })"
        />
        <VTextField
          type="number"
          :model-value="column.minWidth ?? ''"
          :label="words.columnSettings.atLeastPx"
          @change="limit('minWidth', $event.target.value)"
        />
        <VTextField
          type="number"
          :model-value="column.maxWidth ?? ''"
          :label="words.columnSettings.atMostPx"
          @change="limit('maxWidth', $event.target.value)"
        />
      </template>
    </div>
    <EditSettings
      v-if="stage > 5 && column.expression === undefined"
      :column="column"
      :field="field"
      :fields="grid.description?.fields ?? []"
      :keyed="(grid.definition?.key.length ?? 0) > 0"
      @set="set($event)"
    />
    <template v-if="stage > 6">
      <h3>{{ words.columnSettings.readers }}</h3>
      <VCheckbox
        :model-value="shown"
        :label="words.columnSettings.shown"
        @update:model-value="show($event === true)"
      />
      <VCheckbox
        :model-value="column.orderable"
        :label="words.columnSettings.readersMayOrderByIt"
        @update:model-value="set({ orderable: $event === true })"
      />
      <VCheckbox
        :model-value="column.movable"
        :label="words.columnSettings.readersMayPutItElsewhere"
        @update:model-value="set({ movable: $event === true })"
      />
      <VCheckbox
        :model-value="column.wrap"
        :label="words.columnSettings.textBreaksIntoLines"
        :title="words.columnSettings.whereRowsAreAsHigh"
        @update:model-value="set({ wrap: $event === true })"
      />
      <VBtn class="remove" size="small" @click="emit('remove')">{{
        words.columnSettings.removeTheColumn
      }}</VBtn>
    </template>
  </section>
</template>

<style scoped>
.back {
  font-size: 12px;
}
.settings h2 {
  overflow-wrap: anywhere;
}
.examples {
  list-style: none;
  margin: 6px 0 10px;
  padding: 0;
  font-size: 12.5px;
}
.examples {
  min-block-size: 113px;
}
.holding.bars {
  min-block-size: 82px;
}
.holding.values {
  min-block-size: 208px;
}
.examples.end {
  text-align: end;
}
.examples.center {
  text-align: center;
}
.examples li {
  border-block-end: 1px solid var(--rule-soft);
  padding-block: 2px;
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 8px;
  padding-block-start: 5px;
}
.whole {
  grid-column: 1 / -1;
}
.remove {
  margin-block-start: 14px;
  color: var(--poppy);
}
</style>
