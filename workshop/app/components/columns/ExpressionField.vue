<script setup lang="ts">
import { expressionProblemText, readExpression, typeWords, type Field } from '@vast-meadow/engine'
import { completionAt, type Completion, type Offer } from '~/columns/completion'

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
const area = useTemplateRef<HTMLTextAreaElement>('area')
const result = shallowRef<Awaited<ReturnType<typeof readExpression>> | null>(null)
const completion = shallowRef<Completion | null>(null)
const chosen = ref(0)
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
const wrong = computed(() => {
  const told = result.value
  if (!told) return null
  if (!told.ok) return { message: expressionProblemText(told.problem), at: told.problem.at }
  if (fits.value) return null
  return {
    message: `The result must be yes or no; it is ${typeWords(told.typed.type)}.`,
    at: { from: 0, to: 0 },
  }
})
/** The text in three, the middle one wrong. */
const parts = computed(() => {
  const at = wrong.value?.at
  if (!at || at.to <= at.from) return null
  return [text.value.slice(0, at.from), text.value.slice(at.from, at.to), text.value.slice(at.to)]
})

function offer(): void {
  const caret = area.value?.selectionStart ?? text.value.length
  completion.value = completionAt(text.value, caret, fields)
  chosen.value = 0
}

async function take({ insert }: Offer): Promise<void> {
  const { from, to } = completion.value!
  text.value = text.value.slice(0, from) + insert + text.value.slice(to)
  completion.value = null
  await nextTick()
  area.value?.setSelectionRange(from + insert.length, from + insert.length)
  area.value?.focus()
}

function key(event: KeyboardEvent): void {
  const { value: now } = completion
  if (!now) return
  const { offers } = now
  if (event.key === 'ArrowDown') chosen.value = (chosen.value + 1) % offers.length
  else if (event.key === 'ArrowUp') chosen.value = (chosen.value + offers.length - 1) % offers.length
  else if (event.key === 'Enter' || event.key === 'Tab') void take(offers[chosen.value]!)
  else if (event.key === 'Escape') completion.value = null
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div class="expression">
    <label :for="id">{{ label }}</label>
    <textarea
      :id="id"
      ref="area"
      v-model="text"
      rows="2"
      spellcheck="false"
      autocomplete="off"
      aria-autocomplete="list"
      :aria-controls="completion ? `${id}-offers` : undefined"
      :aria-activedescendant="completion ? `${id}-offer-${chosen}` : undefined"
      :aria-invalid="wrong !== null"
      :aria-describedby="`${id}-told`"
      @input="offer"
      @keydown="key"
      @blur="completion = null"
    />
    <ul
      v-if="completion"
      :id="`${id}-offers`"
      class="offers"
      role="listbox"
      :aria-label="`Offers for ${label}`"
    >
      <li
        v-for="(entry, i) in completion.offers"
        :id="`${id}-offer-${i}`"
        :key="entry.shown"
        role="option"
        :aria-selected="i === chosen"
        @pointerdown.prevent="take(entry)"
      >
        <code>{{ entry.shown }}</code> <span class="soft">{{ entry.about }}</span>
      </li>
    </ul>
    <p :id="`${id}-told`" class="told" :class="{ wrong }" aria-live="polite">
      <template v-if="wrong">
        <code v-if="parts" class="marked"
          >{{ parts[0] }}<mark>{{ parts[1] }}</mark
          >{{ parts[2] }}</code
        >
        {{ wrong.message }}
      </template>
      <template v-else-if="result?.ok">gives {{ typeWords(result.typed.type) }}</template>
    </p>
  </div>
</template>

<style scoped>
.expression {
  position: relative;
}
label {
  display: block;
  font-size: 12px;
  color: var(--ink-soft);
  margin-block-end: 3px;
}
textarea {
  inline-size: 100%;
  box-sizing: border-box;
  font: 12px/1.5 var(--font-code);
  color: inherit;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 7px 9px;
  resize: vertical;
  field-sizing: content;
  min-block-size: 3.6em;
}
textarea[aria-invalid='true'] {
  border-color: var(--poppy);
}
.offers {
  position: absolute;
  z-index: 6;
  inset-inline: 0;
  margin: 2px 0 0;
  padding: 4px;
  list-style: none;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  box-shadow: 0 14px 30px -18px #000a;
  max-block-size: 260px;
  overflow: auto;
}
.offers li {
  padding: 4px 7px;
  border-radius: 5px;
  font-size: 11.5px;
  cursor: pointer;
}
.offers code {
  font-size: 12px;
}
.offers [aria-selected='true'] {
  background: var(--moss-tint);
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
.marked {
  display: block;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  color: var(--ink);
}
mark {
  background: color-mix(in srgb, var(--poppy) 18%, transparent);
  color: var(--poppy);
  text-decoration: underline wavy;
  border-radius: 3px;
}
</style>
