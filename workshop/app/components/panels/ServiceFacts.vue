<script setup lang="ts">
import { sentences, words } from '~/words'
import { conditionKinds, isAble, type Ability, type PerKind } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { askedOfService } from '~/service/asked'
import { GOOD_LINE, line, type Line } from '~/service/line'
import { formatBytes, formatCount, formatMs } from '~/utils/format'

defineProps<{ address: string }>()

const grid = useOpenGrid()
const LATENCIES = [0, 50, 200, 1000]
const JITTERS = [0, 200, 2000]
const LOSSES = [0, 0.05, 0.3]

const set = (change: Partial<Line>): void => void (line.value = { ...line.value, ...change })

/** Leaving the grid leaves the line that was tried. */
onBeforeUnmount(() => {
  if (line.value.down) set({ down: false })
})

const can = computed(() => grid.description?.can)
const able = computed(() => {
  const now = can.value
  if (!now) return []
  const some = (of: PerKind<string>): boolean => isAble(of)
  return [
    [words.serviceFacts.order, some(now.order)],
    [words.serviceFacts.conditions, some(now.conditions)],
    [words.serviceFacts.search, now.search === true],
    [words.serviceFacts.groups, some(now.groups)],
    [words.serviceFacts.summaries, some(now.summaries)],
    [
      words.serviceFacts.changes,
      [now.commit, now.save?.update, now.save?.insert, now.save?.remove].includes(true),
    ],
  ] as const
})

/** Kinds that are not offered, by the reason why. */
const missing = computed(() => {
  const now = can.value
  if (!now) return []
  const byReason = new Map<string, string[]>()
  const note = (name: string, ability: Ability): void => {
    if (ability === true) return
    const reason = sentences.refusal(ability)
    byReason.set(reason, [...(byReason.get(reason) ?? []), name])
  }
  for (const { name } of conditionKinds) note(name, now.conditions.kinds?.[name] ?? now.conditions.others)
  for (const name of ['first', 'last', 'frequent', 'same', 'median', 'deviation', 'quantile'] as const)
    note(name, now.summaries.kinds?.[name] ?? now.summaries.others)
  for (const name of ['breaks', 'parts', 'shown', 'expression', 'date', 'letters'] as const)
    note(name, now.groups.kinds?.[name] ?? now.groups.others)
  note(words.serviceFacts.keep, now.keep ?? true)
  note(words.serviceFacts.rest, now.rest ?? true)
  for (const name of ['lengthMap', 'cellsHolding'] as const)
    note(words.serviceFacts[name], now.questions.kinds?.[name] ?? now.questions.others)
  return [...byReason]
})
</script>

<template>
  <div>
    <p class="soft">
      <code dir="ltr">{{ address }}</code>
    </p>
    <h3>{{ words.serviceFacts.whatItDoes }}</h3>
    <ul class="abilities">
      <li v-for="[name, yes] in able" :key="name" :class="{ no: !yes }">
        {{ name }}<span class="visually-hidden">{{ yes ? '' : words.serviceFacts.notOffered }}</span>
      </li>
    </ul>
    <details v-if="missing.length">
      <summary>{{ words.serviceFacts.notOfferedKinds }}</summary>
      <p v-for="[reason, names] in missing" :key="reason" class="soft">
        {{ reason }} <span class="figure">{{ names.join(', ') }}</span>
      </p>
    </details>

    <p v-if="grid.report?.near" class="here" role="status">
      {{ words.serviceFacts.here(formatCount(grid.report.near.rows), formatMs(grid.report.near.ms)) }}
    </p>
    <slot />

    <h3>{{ words.serviceFacts.line }}</h3>
    <p class="soft">{{ words.serviceFacts.lineIsTried }}</p>
    <ChoiceGroup
      :title="words.serviceFacts.latency"
      :choices="LATENCIES"
      :chosen="line.latencyMs"
      :write="ms => `${ms} ms`"
      :disabled="false"
      @choose="set({ latencyMs: $event })"
    />
    <ChoiceGroup
      :title="words.serviceFacts.jitter"
      :choices="JITTERS"
      :chosen="line.jitterMs"
      :write="ms => `${ms} ms`"
      :disabled="false"
      @choose="set({ jitterMs: $event })"
    />
    <ChoiceGroup
      :title="words.serviceFacts.loss"
      :choices="LOSSES"
      :chosen="line.loss"
      :write="part => `${part * 100} %`"
      :disabled="false"
      @choose="set({ loss: $event })"
    />
    <div class="row">
      <VCheckbox
        :model-value="line.down"
        :label="words.serviceFacts.down"
        @update:model-value="set({ down: $event === true })"
      />
      <VBtn v-if="line !== GOOD_LINE" size="small" variant="text" @click="line = GOOD_LINE">{{
        words.serviceFacts.goodLine
      }}</VBtn>
    </div>

    <h3>{{ words.serviceFacts.asked }}</h3>
    <p v-if="askedOfService.last.length === 0" class="soft">{{ words.serviceFacts.nothingAsked }}</p>
    <ol class="asked">
      <li v-for="(one, i) in askedOfService.last" :key="i" :class="{ failed: one.status >= 400 }">
        <code dir="ltr">{{ one.path }}</code>
        <span class="figure"
          >{{ formatMs(one.ms)
          }}<template v-if="one.database">{{
            words.serviceFacts.ofWhich(formatMs(one.database.ms), one.database.did)
          }}</template>
          · {{ formatBytes(one.bytes) }}</span
        >
      </li>
    </ol>
  </div>
</template>

<style scoped>
h3 {
  margin-block: 14px 6px;
}
.here {
  margin-block: 12px 0;
  padding: 8px 10px;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: color-mix(in srgb, var(--moss) 8%, transparent);
}
.abilities {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.abilities li::before {
  content: '✓ ';
  color: var(--moss);
}
.abilities .no {
  color: var(--ink-soft);
}
.abilities .no::before {
  content: '– ';
  color: inherit;
}
.row {
  margin-block-start: 8px;
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.asked {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.asked li {
  display: grid;
  gap: 2px;
}
.asked code {
  overflow-wrap: anywhere;
  font-size: 11px;
}
.asked .figure {
  font-size: 11px;
  color: var(--ink-soft);
}
.failed code {
  color: var(--poppy);
}
</style>
