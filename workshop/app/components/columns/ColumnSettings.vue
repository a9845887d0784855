<script setup lang="ts">
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
const stage = useStages(6)

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
    `settings of ${column.title || column.key}`,
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

const SIDES = [
  { value: 'none', title: 'not pinned' },
  { value: 'start', title: 'at the start' },
  { value: 'end', title: 'at the end' },
] as const
const ALIGNMENTS = [
  { value: 'start', title: 'start' },
  { value: 'center', title: 'middle' },
  { value: 'end', title: 'end' },
] as const
</script>

<template>
  <section class="settings">
    <button type="button" class="link-button back" @click="grid.column = null">All columns</button>
    <h2>{{ column.title || column.key }}</h2>
    <p class="lead">
      <template v-if="column.expression === undefined">
        The field <code>{{ column.key }}</code>{{
          field ? `, ${field.type}` : ', which the rows do not have'
        }}
      </template>
      <template v-else>Computed{{ field ? `, ${field.type}` : '' }}</template>
    </p>

    <div class="box" aria-label="In the first rows" role="group">
      <h3>In the first rows</h3>
      <ul class="examples" :class="column.align">
        <li v-for="(text, i) in examples" :key="i">
          <template v-if="text">{{ text }}</template>
          <i v-else class="soft">missing</i>
        </li>
      </ul>
      <div v-if="told" class="holding" :class="roomFor">
        <ColumnProfile :profile="profile" wide />
      </div>
    </div>

    <div v-if="stage > 0" class="fields">
      <VTextField
        :model-value="column.title"
        label="Title"
        class="whole"
        @change="set({ title: $event.target.value })"
      />
      <ExpressionField
        v-if="column.expression !== undefined"
        class="whole"
        :model-value="column.expression"
        :fields="readable"
        label="Expression"
        @update:model-value="set({ expression: $event })"
      />
      <VTextField
        :model-value="column.help ?? ''"
        label="Help at the heading"
        class="whole"
        @change="set({ help: $event.target.value || undefined })"
      />
    </div>

    <FormatSettings v-if="stage > 1" :column="column" :field="field" @set="set({ format: $event })" />
    <CellSettings v-if="stage > 2" :column="column" :field="field" @set="set($event)" />

    <h3 v-if="stage > 3">Place</h3>
    <div v-if="stage > 3" class="fields">
      <VSelect
        :model-value="column.align"
        :items="ALIGNMENTS"
        label="Values stand at the"
        @update:model-value="set({ align: $event })"
      />
      <VSelect :model-value="side" :items="SIDES" label="Pinned" @update:model-value="place($event)" />
      <template v-if="stage > 4">
        <VTextField
          type="number"
          :model-value="width"
          label="Width, px"
          @change="resize(Number($event.target.value))"
        />
        <VTextField
          type="number"
          :model-value="column.giveWay ?? ''"
          label="Left out when narrow, rank"
          title="Where there is no room for all columns, those with the highest rank are left out first, rank 1 last; empty: never"
          @change="set({ giveWay: numberOr($event.target.value) })"
        />
        <VTextField
          type="number"
          :model-value="column.minWidth ?? ''"
          label="At least, px"
          @change="limit('minWidth', $event.target.value)"
        />
        <VTextField
          type="number"
          :model-value="column.maxWidth ?? ''"
          label="At most, px"
          @change="limit('maxWidth', $event.target.value)"
        />
      </template>
    </div>
    <template v-if="stage > 5">
      <VCheckbox :model-value="shown" label="Shown" @update:model-value="show($event === true)" />
      <VCheckbox
        :model-value="column.orderable"
        label="Readers may order by it"
        @update:model-value="set({ orderable: $event === true })"
      />
      <VCheckbox
        :model-value="column.wrap"
        label="Text breaks into lines"
        title="Where rows are as high as their content"
        @update:model-value="set({ wrap: $event === true })"
      />
      <VBtn class="remove" size="small" @click="emit('remove')">Remove the column</VBtn>
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
