<script setup lang="ts">
import {
  bucketsFor,
  DATE_PARTS,
  isAble,
  type Bucket,
  type BucketKind,
  type GroupMeasure,
  type Level,
} from '@vast-meadow/engine'
import { gridTexts, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'

const props = defineProps<{
  level: Level
  nth: number
  groups: number | undefined
  measures: readonly { readonly title: string; readonly value: GroupMeasure }[]
}>()
const emit = defineEmits<{ change: [Level]; grab: [PointerEvent]; nudge: [KeyboardEvent]; remove: [] }>()

const grid = useOpenGrid()
/** Whether it is unfolded which groups are kept; it stays so while that is set. */
const keeping = ref(props.level.keep !== undefined)
const type = computed(
  () => grid.description?.fields.find(({ key }) => key === props.level.column)?.type ?? 'text',
)
const kinds = computed(() =>
  bucketsFor(type.value)
    .filter(kind => isAble(grid.description?.can.groups, kind))
    .map(value => ({ value, title: gridTexts.buckets[value] })),
)
const parts = DATE_PARTS.map(value => ({ value, title: gridTexts.dateParts[value] }))
const orders = computed(() => [
  { title: gridTexts.groupOrderKey, value: 'key' as const },
  { title: gridTexts.groupOrderShown, value: 'shown' as const },
  ...props.measures,
])
const change = (part: Partial<Level>): void => emit('change', { ...props.level, ...part })
const bucket = (made: Bucket): void => change({ bucket: made })

const BEGUN: Readonly<Record<BucketKind, Bucket>> = {
  value: { by: 'value' },
  shown: { by: 'shown' },
  range: { by: 'range', step: 10, origin: 0 },
  breaks: { by: 'breaks', at: [0] },
  parts: { by: 'parts', count: 4 },
  date: { by: 'date', part: 'month', every: false },
  letters: { by: 'letters', count: 1 },
  expression: { by: 'expression', expression: '""' },
}

function setStep(text: string): void {
  const step = Number(text)
  if (props.level.bucket.by === 'range' && step > 0) bucket({ ...props.level.bucket, step })
}
function setOrigin(text: string): void {
  const origin = Number(text)
  if (props.level.bucket.by === 'range' && text.trim() && Number.isFinite(origin))
    bucket({ ...props.level.bucket, origin })
}
function setBreaks(text: string): void {
  const at = text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number)
  if (at.length > 0 && at.every((value, i) => Number.isFinite(value) && (i === 0 || value > at[i - 1])))
    bucket({ by: 'breaks', at })
}
function setCount(text: string): void {
  const count = Number(text)
  const { bucket: now } = props.level
  if (!Number.isInteger(count) || count < 1 || count > (now.by === 'letters' ? 20 : 1000)) return
  if (now.by === 'parts' || now.by === 'letters') bucket({ ...now, count })
}
</script>

<template>
  <li class="level">
    <div class="level-head">
      <button
        type="button"
        class="grab figure"
        :aria-label="words.groupsPanel.levelArrowsMoveIt(nth + 1, grid.titleOf(level.column))"
        @pointerdown="emit('grab', $event)"
        @keydown="emit('nudge', $event)"
      >
        {{ nth + 1 }}
      </button>
      <b>{{ grid.titleOf(level.column) }}</b>
      <small v-if="groups !== undefined">{{ words.groupsPanel.groupsCounted(groups) }}</small>
      <VBtn
        size="x-small"
        variant="text"
        :aria-label="words.groupsPanel.removeLevel(grid.titleOf(level.column))"
        @click="emit('remove')"
        >×</VBtn
      >
    </div>
    <div class="pair">
      <VSelect
        :model-value="level.bucket.by"
        :items="kinds"
        :label="gridTexts.bucket"
        @update:model-value="bucket(BEGUN[$event as BucketKind])"
      />
      <template v-if="level.bucket.by === 'range'">
        <VTextField
          :model-value="String(level.bucket.step)"
          :label="gridTexts.bucketStep"
          @change="setStep(($event.target as HTMLInputElement).value)"
        />
        <VTextField
          :model-value="String(level.bucket.origin)"
          :label="gridTexts.bucketOrigin"
          @change="setOrigin(($event.target as HTMLInputElement).value)"
        />
      </template>
      <VTextField
        v-else-if="level.bucket.by === 'breaks'"
        :model-value="level.bucket.at.join(', ')"
        :label="gridTexts.bucketBreaks"
        @change="setBreaks(($event.target as HTMLInputElement).value)"
      />
      <VTextField
        v-else-if="level.bucket.by === 'parts' || level.bucket.by === 'letters'"
        :model-value="String(level.bucket.count)"
        :label="level.bucket.by === 'parts' ? gridTexts.bucketCount : gridTexts.bucketLetters"
        @change="setCount(($event.target as HTMLInputElement).value)"
      />
      <template v-else-if="level.bucket.by === 'date'">
        <VSelect
          :model-value="level.bucket.part"
          :items="type === 'time' ? parts.filter(({ value }) => value === 'hour') : parts"
          :label="gridTexts.bucketPart"
          @update:model-value="
            level.bucket.by === 'date' &&
            bucket({
              ...level.bucket,
              part: $event,
              every: level.bucket.every && $event !== 'year' && $event !== 'weekday',
            })
          "
        />
      </template>
      <VTextField
        v-else-if="level.bucket.by === 'expression'"
        :model-value="level.bucket.expression"
        :label="gridTexts.bucketExpression"
        @change="bucket({ by: 'expression', expression: ($event.target as HTMLInputElement).value })"
      />
    </div>
    <VCheckbox
      v-if="level.bucket.by === 'date' && level.bucket.part !== 'year' && level.bucket.part !== 'weekday'"
      :model-value="level.bucket.every"
      :label="gridTexts.bucketEvery"
      @update:model-value="level.bucket.by === 'date' && bucket({ ...level.bucket, every: $event === true })"
    />
    <div class="pair">
      <VSelect
        :model-value="level.order.by"
        :items="orders"
        :label="gridTexts.groupOrder"
        @update:model-value="
          change({
            order: {
              ...level.order,
              by: $event,
              direction: $event === 'key' || $event === 'shown' ? 'ascending' : 'descending',
            },
          })
        "
      />
      <VBtn
        size="small"
        :aria-label="gridTexts[level.order.direction]"
        @click="
          change({
            order: {
              ...level.order,
              direction: level.order.direction === 'ascending' ? 'descending' : 'ascending',
            },
          })
        "
        >{{ level.order.direction === 'ascending' ? '↑' : '↓' }}</VBtn
      >
    </div>
    <VCheckbox
      :model-value="level.order.missing === 'first'"
      :label="gridTexts.missingFirst"
      @update:model-value="change({ order: { ...level.order, missing: $event ? 'first' : 'last' } })"
    />
    <details class="keep" :open="keeping" @toggle="keeping = ($event.target as HTMLDetailsElement).open">
      <summary>{{ words.groupsPanel.keepSome }}</summary>
      <KeepFields :keep="level.keep" :measures="measures" @change="change({ keep: $event })" />
    </details>
    <VCheckbox
      :model-value="level.feet"
      :label="words.groupsPanel.footLines"
      @update:model-value="change({ feet: $event === true })"
    />
  </li>
</template>

<style scoped>
.level {
  display: grid;
  gap: 8px;
  padding: 10px;
  border: 1px solid var(--rule);
  border-radius: 8px;
}
.level-head {
  display: flex;
  align-items: center;
  gap: 4px;
}
.grab {
  background: var(--ink);
  color: var(--paper);
  border: 0;
  border-radius: 3px;
  padding: 1px 7px;
  font-size: 11px;
  cursor: grab;
}
.level-head b {
  flex: 1;
  min-inline-size: 0;
  overflow: clip;
  text-overflow: ellipsis;
}
.keep summary {
  cursor: pointer;
  font-size: 13px;
  padding-block: 4px;
}
.pair {
  display: flex;
  gap: 8px;
  align-items: center;
}
.pair > * {
  min-inline-size: 0;
}
</style>
