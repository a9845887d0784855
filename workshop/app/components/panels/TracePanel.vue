<script setup lang="ts">
import { conditionText } from '~/utils/condition-text'
import { sentences, words } from '~/words'
import { type Condition, type Trace } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'

/** Why a row is where it is, or not there: what each stage says of it, and what would have to change. */
const grid = useOpenGrid()
const typed = ref(grid.traced === null ? '' : grid.traced)
const trace = shallowRef<Trace | null>(null)
const missing = ref(false)
let asked = 0

watch(
  () => grid.traced,
  key => key !== null && (typed.value = key),
)

/** Several key fields are typed with commas between. */
const keyOf = (text: string): string | number | string[] => {
  const fields = grid.definition?.key ?? []
  if (fields.length === 0) return Number(text) - 1
  return fields.length === 1 ? text : text.split(',').map(part => part.trim())
}

async function look(): Promise<void> {
  const mine = ++asked
  const text = typed.value.trim()
  if (!text || !grid.handle) {
    trace.value = null
    missing.value = false
    return
  }
  const told = await grid.handle.trace(keyOf(text)).catch(() => null)
  if (mine !== asked) return
  trace.value = told
  missing.value = told === null
}

const keyName = computed(
  () => (grid.definition?.key ?? []).map(key => grid.titleOf(key)).join(', ') || words.tracePanel.rowNumber,
)
const summary = (column: string, condition: Condition): string => {
  const field = grid.description?.fields.find(({ key }) => key === column)
  const format = grid.definition?.columns.find(({ key }) => key === column)?.format
  return field ? conditionText(condition, field, format) : (grid.arrangement?.where ?? '')
}
const isWhere = (column: string): boolean => !grid.arrangement?.conditions[column]
const nameOf = ({ shown, rest }: Trace['groups'][number]): string =>
  rest ? words.tracePanel.allOthers : shown || words.tracePanel.missing
const outcome = computed(() => {
  const { value } = trace
  if (!value) return ''
  if (!value.passes) return words.tracePanel.itIsHeldBack
  if (value.heldBackAt !== null) return words.tracePanel.itsGroupIsNotKept
  const closed = value.groups.find(({ open }) => !open)
  if (closed) return words.tracePanel.closedGroup(nameOf(closed))
  return words.tracePanel.itIsOnLine(formatCount(value.line + 1))
})

function lift(column: string): void {
  if (isWhere(column)) return grid.change({ where: '' })
  const { [column]: _old, ...others } = grid.now.arrangement.conditions
  grid.change({ conditions: others })
}

const show = (): void => void grid.handle?.scrollTo(keyOf(typed.value.trim()))

watch([typed, () => grid.report], () => void look(), { immediate: true })
</script>

<template>
  <section>
    <h2>{{ words.tracePanel.traceARow }}</h2>
    <p class="lead">{{ words.tracePanel.whichStagesItPassesWhere }}</p>
    <VTextField v-model="typed" :label="words.tracePanel.itsKey(keyName)" clearable />
    <p v-if="missing" class="held none" role="status">{{ words.tracePanel.thereIsNoRowWith }}</p>
    <template v-if="trace">
      <div class="box outcome" role="status" :class="{ stopped: !trace.passes }">
        <b>{{ outcome }}</b>
        <VBtn v-if="trace.passes" size="small" @click="show">{{ words.tracePanel.showIt }}</VBtn>
      </div>
      <ol class="stages">
        <li class="stage passes">
          <b>{{ words.tracePanel.source }}</b><span class="soft">{{ words.tracePanel.itIsThere }}</span>
        </li>
        <li class="stage" :class="trace.search?.passes === false ? 'stops' : 'passes'">
          <b>{{ words.tracePanel.search }}</b>
          <span v-if="!trace.search" class="soft">{{ words.tracePanel.nothingIsSearched }}</span>
          <ul v-else class="words">
            <li v-for="word in trace.search.words" :key="word.word">
              <code>{{ word.word }}</code>
              <span v-if="word.columns.length > 0" class="soft">{{
                words.tracePanel.inWord(word.columns.map(grid.titleOf).join(', '))
              }}</span>
              <span v-else class="held">{{ words.tracePanel.standsNowhereInIt }}</span>
            </li>
          </ul>
          <button
            v-if="trace.search && !trace.search.passes"
            type="button"
            class="link-button"
            @click="grid.change({ search: '' })"
          >
            {{ words.tracePanel.liftTheSearch }}
          </button>
        </li>
        <li class="stage" :class="trace.conditions.every(({ holds }) => holds) ? 'passes' : 'stops'">
          <b>{{ words.tracePanel.conditions }}</b>
          <span v-if="trace.conditions.length === 0" class="soft">{{ words.tracePanel.none }}</span>
          <ul v-else>
            <li v-for="told in trace.conditions" :key="told.column" :class="{ stopped: !told.holds }">
              <span>
                <template v-if="!isWhere(told.column)">
                  {{ words.tracePanel.isWord(grid.titleOf(told.column)) }}
                  <b>{{ told.shown || words.tracePanel.missing }}</b>{{ ' ' }}
                  <span :class="told.holds ? 'soft' : 'held'">{{
                    words.tracePanel[told.holds ? 'meets' : 'wouldHaveTo'](
                      summary(told.column, told.condition),
                    )
                  }}</span>
                </template>
                <span v-else :class="told.holds ? 'soft' : 'held'"
                  ><code>{{ grid.arrangement?.where }}</code>
                  {{
                    words.tracePanel.isWord2(told.holds ? words.tracePanel.true : words.tracePanel.notTrue)
                  }}</span
                >
              </span>
              <span v-for="(problem, nth) in told.problems" :key="nth" class="held">{{
                sentences.partProblem(problem)
              }}</span>
              <button v-if="!told.holds" type="button" class="link-button" @click="lift(told.column)">
                {{ words.tracePanel.liftIt }}
              </button>
            </li>
          </ul>
        </li>
        <template v-if="trace.passes">
          <li class="stage passes">
            <b>{{ words.tracePanel.order }}</b>
            <span v-if="trace.order.length === 0" class="soft">{{ words.tracePanel.asTheRowsCame }}</span>
            <ul v-else>
              <li v-for="(key, nth) in trace.order" :key="key.column">
                <span
                  >{{ nth + 1 }}. {{ grid.titleOf(key.column) }}
                  {{ words.tracePanel.directions[key.direction] }}:
                  <b>{{ key.shown || words.tracePanel.missing }}</b></span
                >
              </li>
            </ul>
          </li>
          <li v-if="trace.heldBackAt !== null" class="stage stops">
            <b>{{ words.tracePanel.groups }}</b>
            <span>{{ words.tracePanel.itsGroupIsNotKept }}</span>
          </li>
          <li
            v-else-if="trace.groups.length > 0"
            class="stage"
            :class="trace.groups.every(({ open }) => open) ? 'passes' : 'stops'"
          >
            <b>{{ words.tracePanel.groups }}</b>
            <ul>
              <li v-for="group in trace.groups" :key="group.column">
                <span
                  >{{ words.tracePanel.inWord(grid.titleOf(group.column)) }} <b>{{ nameOf(group) }}</b>{{
                    group.open ? '' : words.tracePanel.whichIsClosed
                  }}</span
                >
              </li>
            </ul>
          </li>
          <li v-if="trace.heldBackAt === null" class="stage passes">
            <b>{{ words.tracePanel.rows }}</b><span class="soft">{{
              words.tracePanel.line(formatCount(trace.line + 1))
            }}</span>
          </li>
        </template>
      </ol>
    </template>
    <p v-else-if="!missing" class="soft">
      {{ words.tracePanel.typeAKeyOrChoose }}
    </p>
  </section>
</template>

<style scoped>
.none,
.outcome {
  margin-block-start: 10px;
}
.outcome {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  border-inline-start: 3px solid var(--moss);
}
.outcome.stopped {
  border-inline-start-color: var(--poppy);
}
.stages {
  list-style: none;
  margin: 12px 0 0;
  padding: 0 0 0 4px;
}
.stage {
  position: relative;
  padding-inline-start: 22px;
  padding-block-end: 14px;
  border-inline-start: 2px solid var(--moss-stream);
  display: grid;
  gap: 3px;
}
.stage:last-child {
  border-color: transparent;
}
.stage::before {
  content: '';
  position: absolute;
  inset-inline-start: -7px;
  inset-block-start: 3px;
  inline-size: 12px;
  block-size: 12px;
  border-radius: 50%;
  background: var(--moss);
}
.stage.stops {
  border-color: var(--rule);
}
.stage.stops::before {
  background: var(--poppy);
  border-radius: 2px;
}
.stage ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
.stage ul li {
  display: grid;
  justify-items: start;
  overflow-wrap: anywhere;
}
.stage .words li {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.stage code {
  background: var(--straw-tint);
  border-radius: 4px;
  padding: 0 5px;
  font-size: 12px;
  justify-self: start;
}
</style>
