<script setup lang="ts">
import { sentences, words } from '~/words'
import { conditionsExpression, conditionsFrom, type Condition } from '@vast-meadow/engine'
import type { WrongPart } from '~/expression-editor/expression-view'
import { useOpenGrid } from '~/stores/open-grid'

/** All that rows must meet as one expression; edited as text, it becomes cards again as far as cards can say it. */
const grid = useOpenGrid()
const draft = ref<string | null>(null)
const wrong = shallowRef<WrongPart | null>(null)
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
    : { message: sentences.expressionProblem(taken.problem), at: taken.problem.at }
  return taken
}
watch(draft, now => now !== null && void check())

async function apply(): Promise<void> {
  const taken = await check()
  if (!taken?.ok) return
  // What no expression can say stays as it is.
  const kept = Object.entries(grid.now.arrangement.conditions).filter(([key]) =>
    said.value.left.includes(key),
  )
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
</script>

<template>
  <div class="head">
    <h3>{{ words.conditionsText.allConditionsWrittenOut }}</h3>
    <button v-if="draft === null" type="button" class="link-button" @click="draft = said.text">
      {{ words.conditionsText.edit }}
    </button>
  </div>
  <template v-if="draft === null">
    <pre v-if="said.text" class="sentence"><code>{{ said.text }}</code></pre>
    <p v-else class="soft">{{ words.conditionsText.nothingIsAskedThatAn }}</p>
  </template>
  <template v-else>
    <ExpressionText
      v-model="draft"
      :label="words.conditionsText.allConditionsAsOneExpression"
      :fields="fields"
      :wrong="wrong"
      described-by="conditions-wrong"
    />
    <p id="conditions-wrong" class="told held" aria-live="polite">{{ wrong?.message }}</p>
    <div class="acts">
      <VBtn size="small" :disabled="wrong !== null" @click="apply">{{
        words.conditionsText.takeTheseConditions
      }}</VBtn>
      <VBtn size="small" @click="draft = null">{{ words.conditionsText.leaveIt }}</VBtn>
    </div>
  </template>
  <p v-if="left.length > 0" class="soft left">
    {{ words.conditionsText.notInItBecauseNo(left.join(', ')) }}
  </p>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.sentence {
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
.told {
  font-size: 11.5px;
  margin-block: 4px 0;
  overflow-wrap: anywhere;
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
