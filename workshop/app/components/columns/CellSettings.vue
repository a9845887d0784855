<script setup lang="ts">
import { words } from '~/words'
import {
  actionKey,
  actionShownKey,
  fieldsOfRules,
  TONES,
  type CellDefinition,
  type ColumnDefinition,
  type Field,
  type Tone,
} from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { useProfiles } from '~/stores/profiles'
import { nextActionName } from '~/utils/action-name'
import { said } from '~/utils/said'

/** How a column's cells are drawn, and what that way of drawing asks for. */
const { column, field } = defineProps<{ column: ColumnDefinition; field: Field | null }>()
const emit = defineEmits<{ set: [change: Partial<ColumnDefinition>] }>()

const grid = useOpenGrid()
const profiles = useProfiles()
const cell = computed(() => column.cell)
const numeric = computed(() => field?.type === 'integer' || field?.type === 'number')
const KINDS = computed(() => [
  { value: 'text', title: words.cellSettings.textAsFormatted },
  ...(field?.type === 'boolean' ? [{ value: 'check', title: words.cellSettings.checkMark }] : []),
  ...(field?.type === 'tags' ? [{ value: 'tags', title: words.cellSettings.tags }] : []),
  ...(numeric.value ? [{ value: 'bar', title: words.cellSettings.bar }] : []),
  { value: 'badge', title: words.cellSettings.badge },
  { value: 'link', title: words.cellSettings.link },
  { value: 'mail', title: words.cellSettings.mailLink },
  { value: 'picture', title: words.cellSettings.picture },
  { value: 'actions', title: words.cellSettings.actionButtons },
])
const others = computed(() => grid.ownFields.map(({ key }) => key).filter(key => key !== column.key))
const values = computed(() => profiles.known.get(column.key)?.values ?? [])

const START: Readonly<Record<CellDefinition['kind'], CellDefinition>> = {
  text: { kind: 'text' },
  check: { kind: 'check' },
  tags: { kind: 'tags' },
  link: { kind: 'link' },
  mail: { kind: 'mail' },
  picture: { kind: 'picture', width: 24, height: 24, round: false },
  badge: { kind: 'badge', mark: 'dot', tones: {} },
  bar: { kind: 'bar', tone: 'straw' },
  actions: { kind: 'actions', actions: [{ name: 'open', title: words.cellSettings.open, deletes: false }] },
}

function setKind(kind: CellDefinition['kind']): void {
  const start = START[kind]
  // Values get tones that differ, so that a badge says something from the start.
  const tones = Object.fromEntries(
    values.value.map(({ value }, i) => [String(value), TONES[i % TONES.length]]),
  )
  emit('set', { cell: start.kind === 'badge' ? { ...start, tones } : start })
}

/** Settings of the present kind. */
function set(change: object): void {
  emit('set', { cell: said({ ...cell.value, ...change }) })
}

const setTone = (value: string, tone: Tone): void => {
  if (cell.value.kind === 'badge') set({ tones: { ...cell.value.tones, [value]: tone } })
}
const numberOr = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text))

type Action = Extract<CellDefinition, { kind: 'actions' }>['actions'][number]
const actions = computed<readonly Action[]>(() => (cell.value.kind === 'actions' ? cell.value.actions : []))

function setAction(at: number, change: Partial<Action>): void {
  const next = actions.value.map((action, i) => {
    return i === at ? said({ ...action, ...change }) : action
  })
  set({ actions: next })
}

function addAction(): void {
  const { name, nth } = nextActionName(actions.value)
  set({ actions: [...actions.value, { name, title: words.batchActions.actionNumber(nth), deletes: false }] })
}

/** In how many rows each is there, and can be used. */
const touched = useTouchedRows(() =>
  actions.value.flatMap(({ name, shown, when }) => [
    shown === undefined ? null : actionShownKey(column.key, name),
    when === undefined ? null : actionKey(column.key, name),
  ]),
)

const dropAction = (at: number): void => set({ actions: actions.value.filter((_, i) => i !== at) })
</script>

<template>
  <h3>{{ words.cellSettings.cell }}</h3>
  <div class="fields">
    <VSelect
      :model-value="cell.kind"
      :items="KINDS"
      :label="words.cellSettings.drawnAs"
      class="whole"
      @update:model-value="setKind($event)"
    />
    <template v-if="cell.kind === 'link' || cell.kind === 'mail'">
      <VAutocomplete
        :model-value="cell.address ?? null"
        :items="others"
        :label="words.cellSettings.addressFromTheField"
        class="whole"
        clearable
        @update:model-value="set({ address: $event })"
      />
    </template>
    <template v-if="cell.kind === 'picture'">
      <VTextField
        type="number"
        :model-value="cell.width"
        :label="words.cellSettings.widthPx"
        @change="set({ width: Number($event.target.value) })"
      />
      <VTextField
        type="number"
        :model-value="cell.height"
        :label="words.cellSettings.heightPx"
        @change="set({ height: Number($event.target.value) })"
      />
      <VAutocomplete
        :model-value="cell.alt ?? null"
        :items="others"
        :label="words.cellSettings.wordsForThePictureFrom"
        class="whole"
        clearable
        @update:model-value="set({ alt: $event })"
      />
      <VCheckbox
        :model-value="cell.round"
        :label="words.cellSettings.round"
        @update:model-value="set({ round: $event === true })"
      />
    </template>
    <template v-if="cell.kind === 'badge'">
      <VSelect
        :model-value="cell.mark"
        :items="
          (['dot', 'square', 'filled'] as const).map(value => ({
            value,
            title: words.cellSettings.marks[value],
          }))
        "
        :label="words.cellSettings.mark"
        class="whole"
        @update:model-value="set({ mark: $event })"
      />
      <ToneSelect
        v-for="value in values"
        :key="value.shown"
        :model-value="cell.tones[String(value.value)] ?? 'stone'"
        :label="value.shown"
        @update:model-value="setTone(String(value.value), $event)"
      />
    </template>
    <template v-if="cell.kind === 'bar'">
      <VTextField
        type="number"
        :model-value="cell.low ?? ''"
        :label="words.cellSettings.emptyAt"
        @change="set({ low: numberOr($event.target.value) })"
      />
      <VTextField
        type="number"
        :model-value="cell.high ?? ''"
        :label="words.cellSettings.fullAt"
        @change="set({ high: numberOr($event.target.value) })"
      />
      <ToneSelect
        :model-value="cell.tone"
        :label="words.cellSettings.tone"
        @update:model-value="set({ tone: $event })"
      />
    </template>
    <ToneSelect
      v-if="cell.kind === 'tags'"
      :model-value="cell.tone ?? 'stone'"
      :label="words.cellSettings.tone"
      @update:model-value="set({ tone: $event })"
    />
  </div>
  <template v-if="cell.kind === 'actions'">
    <ActionCard
      v-for="(action, i) in actions"
      :key="i"
      :action="action"
      :fields="fieldsOfRules(grid.description?.fields ?? [])"
      :removable="actions.length > 1"
      :touched="{ shown: touched[2 * i], when: touched[2 * i + 1] }"
      @set="setAction(i, $event)"
      @remove="dropAction(i)"
    />
    <VBtn size="small" @click="addAction">{{ words.cellSettings.addAnAction }}</VBtn>
  </template>
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
</style>
