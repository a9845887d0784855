<script setup lang="ts">
import { conditionText } from '~/utils/condition-text'
import { sentences, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** What one column asks, in the grid's own editor: the same condition as strip, card and chips show. */
const { column, held = null } = defineProps<{
  column: string
  /** Rows that it alone keeps from passing; null: that is not known. */
  held?: number | null
}>()
const emit = defineEmits<{ lifted: [] }>()
const grid = useOpenGrid()

const place = useTemplateRef<HTMLElement>('place')
let unmount: (() => void) | null = null
watch(
  [place, () => grid.handle, () => grid.description],
  ([host, handle]) => {
    unmount?.()
    unmount = host && handle ? handle.mountConditionEditor(column, host) : null
  },
  { flush: 'post' },
)
onBeforeUnmount(() => unmount?.())

const field = computed(() => grid.description?.fields.find(field => field.key === column))
const defined = computed(() => grid.definition?.columns.find(({ key }) => key === column))
const condition = computed(() => grid.arrangement?.conditions[column])
const summary = computed(() => {
  if (!condition.value || !field.value) return 'any'
  return conditionText(condition.value, field.value, defined.value?.format)
})
const problems = computed(() => (grid.report?.conditionProblems[column] ?? []).map(sentences.partProblem))
const hidden = computed(() => grid.arrangement?.hidden.includes(column) ?? false)

function lift(): void {
  const { [column]: _old, ...others } = grid.now.arrangement.conditions
  grid.change({ conditions: others })
  emit('lifted')
}
</script>

<template>
  <article class="box">
    <div class="row">
      <b>{{ grid.titleOf(column) }}</b>
      <span class="soft summary" :title="summary">{{ summary }}</span>
      <button
        type="button"
        class="link-button push"
        :aria-label="words.conditionCard.liftTheConditionOn(grid.titleOf(column))"
        @click="lift"
      >
        {{ words.conditionCard.lift }}
      </button>
    </div>
    <div ref="place" class="editor as-workshop" />
    <p v-for="problem in problems" :key="problem" class="held" role="alert">{{ problem }}</p>
    <div v-if="condition" class="row held-row">
      <span v-if="hidden" class="soft">{{ words.conditionCard.columnIsHidden }}</span>
      <span v-if="held !== null" class="held push">{{
        words.conditionCard.holdsBack(formatCount(held))
      }}</span>
    </div>
  </article>
</template>

<style scoped>
.summary {
  min-inline-size: 0;
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.editor {
  margin-block-start: 8px;
}
.held-row {
  margin-block-start: 6px;
  font-size: 12px;
}
</style>
