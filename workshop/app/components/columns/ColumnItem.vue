<script setup lang="ts">
import { words } from '~/words'
import { isAble, type ColumnPart } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { useProfiles } from '~/stores/profiles'

/** One column in the list of all. */
export interface ListedColumn {
  readonly key: string
  readonly title: string
  /** As it is called; or why it has none. */
  readonly type: string
  readonly computed: boolean
  readonly shown: boolean
  readonly part: ColumnPart
}
const { column, picking, picked, dragged } = defineProps<{
  column: ListedColumn
  picking: boolean
  picked: boolean
  dragged: boolean
}>()
const emit = defineEmits<{
  show: [shown: boolean]
  pin: [part: ColumnPart]
  pick: [picked: boolean]
  grab: [PointerEvent]
  nudge: [KeyboardEvent]
}>()
const SIDES = ['start', 'end'] as const

const grid = useOpenGrid()
const profiles = useProfiles()
const item = useTemplateRef<HTMLElement>('item')
const profile = computed(() => profiles.known.get(column.key) ?? null)
const seen = ref(false)

// Only columns that somebody sees are counted.
let observer: IntersectionObserver | null = null
onMounted(() => {
  observer = new IntersectionObserver(([entry]) => (seen.value = entry.isIntersecting))
  if (item.value) observer.observe(item.value)
})
onBeforeUnmount(() => observer?.disconnect())
watchEffect(() => {
  if (seen.value && isAble(grid.description?.can.questions, 'profile'))
    profiles.want(column.key, profiles.generation)
})
</script>

<template>
  <li ref="item" class="item" :class="{ hidden: !column.shown, dragged }">
    <slot />
    <div class="line">
      <button
        type="button"
        class="grab"
        :aria-label="words.columnItem.dragOrArrows(column.title)"
        :title="words.columnItem.dragOrArrows(column.title)"
        @pointerdown="emit('grab', $event)"
        @keydown="emit('nudge', $event)"
      >
        {{ words.columnItem.handle }}
      </button>
      <VCheckbox
        v-if="picking"
        :model-value="picked"
        :aria-label="words.columnItem.pick(column.title)"
        @update:model-value="emit('pick', $event === true)"
      />
      <VCheckbox
        v-else
        :model-value="column.shown"
        :aria-label="column.title"
        :title="words.columnItem.shown"
        @update:model-value="emit('show', $event === true)"
      />
      <button
        type="button"
        class="name"
        :title="words.columnItem.settingsOf(column.title)"
        @click="grid.openColumn(column.key)"
      >
        <span class="title">{{ column.title }}</span>
        <span class="soft figure type">{{
          column.computed ? words.fieldTypes.computed(column.type) : column.type
        }}</span>
      </button>
      <ColumnProfile :profile="profile" />
      <span class="pins">
        <button
          v-for="side in SIDES"
          :key="side"
          type="button"
          class="pin"
          :aria-pressed="column.part === side"
          :aria-label="words.columnItem.pinAt(words.columnItem.side[side], column.title)"
          :title="words.columnItem.pinAt(words.columnItem.side[side], column.title)"
          :class="side"
          @click="emit('pin', column.part === side ? 'middle' : side)"
        />
      </span>
    </div>
  </li>
</template>

<style scoped>
.item.dragged {
  opacity: 0.55;
}
.grab {
  border: 0;
  background: none;
  padding: 2px;
  color: var(--ink-soft);
  cursor: grab;
  touch-action: none;
}
.pins {
  display: flex;
  gap: 2px;
}
.line {
  display: grid;
  grid-template-columns: 16px 28px minmax(0, 1fr) 76px auto;
  align-items: center;
  gap: 6px;
  block-size: 40px;
  border-block-end: 1px solid var(--rule-soft);
}
.hidden .title {
  color: var(--ink-soft);
}
.hidden :deep(svg) {
  opacity: 0.6;
}
.name {
  display: grid;
  text-align: start;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  padding: 2px 4px;
  border-radius: 5px;
  cursor: pointer;
  min-inline-size: 0;
}
.name:hover .title {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.title,
.type {
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
}
.type {
  font-size: 10.5px;
}
.pin {
  font: inherit;
  font-size: 12px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--sheet);
  color: var(--ink-soft);
  padding: 0 4px;
  cursor: pointer;
  line-height: 1.5;
}
.pin::before {
  content: '⇤';
}
.pin.end::before {
  content: '⇥';
}
.pin:dir(rtl) {
  transform: scaleX(-1);
}
.pin[aria-pressed='true'] {
  background: var(--moss-tint);
  color: var(--moss-ink);
  border-color: transparent;
}
</style>
