<script setup lang="ts">
import { sentences, words } from '~/words'
import { readExpression, type Field } from '@vast-meadow/engine'
import type { WrongPart } from '~/expression-editor/expression-view'

/** An expression written by hand: what could be meant is offered, what is wrong is shown at its place. */
const { modelValue, fields, label, wanted, optional } = defineProps<{
  modelValue: string
  fields: readonly Field[]
  label: string
  wanted?: 'boolean'
  /** Nothing may be written. */
  optional?: boolean
}>()
/** Only expressions that can be used are told. */
const emit = defineEmits<{ 'update:modelValue': [expression: string] }>()

const CHECK_AFTER_MS = 120
const id = useId()
const text = ref(modelValue)
const result = shallowRef<Awaited<ReturnType<typeof readExpression>> | null>(null)
let timer = 0

watch(
  () => modelValue,
  now => {
    if (now !== text.value && result.value?.ok !== false) text.value = now
  },
)
watch([text, () => fields], () => {
  window.clearTimeout(timer)
  timer = window.setTimeout(() => void check(), CHECK_AFTER_MS)
})
onMounted(() => void check())
onBeforeUnmount(() => window.clearTimeout(timer))

async function check(): Promise<void> {
  const now = text.value
  if (optional && now.trim() === '') {
    result.value = null
    if (modelValue !== '') emit('update:modelValue', '')
    return
  }
  const told = await readExpression(now, fields)
  if (text.value !== now) return
  result.value = told
  if (told.ok && fits.value && now !== modelValue) emit('update:modelValue', now)
}

const fits = computed(() => {
  const told = result.value
  return told?.ok === true && (wanted !== 'boolean' || told.typed.type === 'boolean')
})
const wrong = computed((): WrongPart | null => {
  const told = result.value
  if (!told) return null
  if (!told.ok) return { message: sentences.expressionProblem(told.problem), at: told.problem.at }
  if (fits.value) return null
  return {
    message: words.expressionField.theResultMustBeYes(sentences.type(told.typed.type)),
    at: { from: 0, to: 0 },
  }
})
</script>

<template>
  <div class="expression">
    <span class="label" aria-hidden="true">{{ label }}</span>
    <ExpressionText
      v-model="text"
      :label="label"
      :fields="fields"
      :wrong="wrong"
      :described-by="`${id}-told`"
    />
    <p :id="`${id}-told`" class="told" :class="{ wrong }" aria-live="polite">
      <template v-if="wrong">{{ wrong.message }}</template>
      <template v-else-if="result?.ok">{{
        words.expressionField.gives(sentences.type(result.typed.type))
      }}</template>
    </p>
  </div>
</template>

<style scoped>
.label {
  display: block;
  font-size: 12px;
  color: var(--ink-soft);
  margin-block-end: 3px;
}
.told {
  font-size: 11.5px;
  color: var(--ink-soft);
  margin-block: 4px 0;
  min-block-size: 1.4em;
}
.told.wrong {
  color: var(--poppy);
}
</style>
