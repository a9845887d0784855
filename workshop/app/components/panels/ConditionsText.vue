<script setup lang="ts">
import {
  conditionsExpression,
  conditionsFrom,
  expressionProblemText,
  type Condition,
} from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** All that rows must meet as one expression; edited as text, it becomes cards again as far as cards can say it. */
const grid = useOpenGrid()
const draft = ref<string | null>(null)
const wrong = shallowRef<{ message: string; from: number; to: number } | null>(null)
let asked = 0

const fields = computed(() => grid.description?.fields.filter(({ internal }) => !internal) ?? [])
const said = computed(() =>
  conditionsExpression(grid.arrangement?.conditions ?? {}, grid.arrangement?.where ?? '', fields.value),
)
const left = computed(() => said.value.left.map(grid.titleOf))

async function check(): Promise<Awaited<ReturnType<typeof conditionsFrom>> | null> {
  const mine = ++asked
  const taken = await conditionsFrom(draft.value ?? '', fields.value)
  if (mine !== asked) return null
  wrong.value = taken.ok
    ? null
    : { message: expressionProblemText(taken.problem), from: taken.problem.at.from, to: taken.problem.at.to }
  return taken
}
watch(draft, now => now !== null && void check())

async function apply(): Promise<void> {
  const taken = await check()
  if (!taken?.ok) return
  // What no expression can say stays as it is.
  const kept = Object.entries(grid.arrangement!.conditions).filter(([key]) => said.value.left.includes(key))
  const conditions: Record<string, Condition> = { ...taken.conditions }
  for (const [key, condition] of kept) {
    const now = conditions[key]
    conditions[key] =
      now && now.match === 'all' && condition.match === 'all'
        ? { match: 'all', parts: [...condition.parts, ...now.parts] }
        : condition
  }
  grid.change({ conditions, where: taken.where })
  draft.value = null
}

const marked = computed(() => {
  const { value: at } = wrong
  const text = draft.value ?? ''
  return at && at.to > at.from
    ? [text.slice(0, at.from), text.slice(at.from, at.to), text.slice(at.to)]
    : null
})
</script>

<template>
  <div class="head">
    <h3>As an expression</h3>
    <button v-if="draft === null" type="button" class="link-button" @click="draft = said.text">edit</button>
  </div>
  <template v-if="draft === null">
    <pre v-if="said.text" class="sentence"><code>{{ said.text }}</code></pre>
    <p v-else class="soft">Nothing is asked that an expression could say.</p>
  </template>
  <template v-else>
    <textarea
      v-model="draft"
      rows="4"
      spellcheck="false"
      aria-label="All conditions as one expression"
      :aria-invalid="wrong !== null"
      aria-describedby="conditions-wrong"
    />
    <p id="conditions-wrong" class="told" aria-live="polite">
      <template v-if="wrong">
        <code v-if="marked"
          >{{ marked[0] }}<mark>{{ marked[1] }}</mark
          >{{ marked[2] }}</code
        >
        <span class="held">{{ wrong.message }}</span>
      </template>
    </p>
    <div class="acts">
      <VBtn size="small" :disabled="wrong !== null" @click="apply">Take these conditions</VBtn>
      <VBtn size="small" @click="draft = null">Leave it</VBtn>
    </div>
  </template>
  <p v-if="left.length > 0" class="soft left">
    Not in it, because no expression can say it: {{ left.join(', ') }}.
  </p>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.sentence,
textarea {
  inline-size: 100%;
  box-sizing: border-box;
  margin: 0;
  font: 12px/1.6 var(--font-code);
  color: inherit;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 8px 10px;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
textarea {
  field-sizing: content;
  resize: vertical;
}
textarea[aria-invalid='true'] {
  border-color: var(--poppy);
}
.told {
  font-size: 11.5px;
  margin-block: 4px 0;
  overflow-wrap: anywhere;
}
.told mark {
  background: color-mix(in srgb, var(--poppy) 28%, transparent);
  color: inherit;
}
.told code {
  display: block;
}
.acts {
  display: flex;
  gap: 8px;
  margin-block-start: 6px;
}
.left {
  font-size: 12px;
  margin-block-start: 6px;
}
</style>
