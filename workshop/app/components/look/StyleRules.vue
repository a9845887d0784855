<script setup lang="ts">
import { words } from '~/words'
import { fieldReference, fieldsOfRules, styleKey, type Definition, type StyleRule } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'
import { said } from '~/utils/said'

/** Styles of rows and cells by expression, each with the rows that it touches now. */
const { definition } = defineProps<{ definition: Definition }>()
const emit = defineEmits<{ set: [styles: StyleRule[]] }>()

const grid = useOpenGrid()
const touched = useTouchedRows(() => definition.styles.map((_, nth) => styleKey(nth)))
const titles = computed(() =>
  definition.columns.map(({ key, title }) => ({ value: key, title: title || key })),
)
/** Rules may read computed columns too. */
const fields = computed(() => fieldsOfRules(grid.description?.fields ?? []))

function set(nth: number, change: Partial<StyleRule>): void {
  emit(
    'set',
    definition.styles.map((style, i) => {
      return i === nth ? said({ ...style, ...change }) : style
    }),
  )
}

function add(): void {
  const first = grid.ownFields[0]
  const when = first ? `has(${fieldReference(first.key)})` : 'true'
  const rule: StyleRule = {
    when,
    columns: [],
    tone: 'straw',
    shaded: true,
    bold: false,
    italic: false,
    struck: false,
  }
  emit('set', [...definition.styles, rule])
}

const drop = (nth: number): void =>
  emit(
    'set',
    definition.styles.filter((_, i) => i !== nth),
  )

const MARKS = ['shaded', 'bold', 'italic', 'struck'] as const
</script>

<template>
  <h3>{{ words.styleRules.styleRules }}</h3>
  <div v-for="(style, nth) in definition.styles" :key="nth" class="box rule">
    <p class="row">
      <b>{{ words.styleRules.rule(nth + 1) }}</b>
      <span class="figure touched" role="status">
        {{ touched[nth] == null ? '' : words.styleRules.rows(formatCount(touched[nth])) }}
      </span>
      <button
        type="button"
        class="link-button push"
        :aria-label="words.styleRules.takeOutRule(nth + 1)"
        @click="drop(nth)"
      >
        {{ words.styleRules.takeOut }}
      </button>
    </p>
    <ExpressionField
      :model-value="style.when"
      :fields="fields"
      :label="words.styleRules.inRowsWhere"
      wanted="boolean"
      @update:model-value="set(nth, { when: $event })"
    />
    <VAutocomplete
      :model-value="style.columns"
      :items="titles"
      :label="words.styleRules.inTheColumns"
      :placeholder="words.styleRules.theWholeRow"
      persistent-placeholder
      multiple
      @update:model-value="set(nth, { columns: $event })"
    />
    <ToneSelect
      :model-value="style.tone ?? 'stone'"
      :label="words.styleRules.tone"
      @update:model-value="set(nth, { tone: $event })"
    />
    <div class="marks">
      <button
        v-for="mark in MARKS"
        :key="mark"
        type="button"
        :class="['mark', mark]"
        :aria-pressed="style[mark]"
        @click="set(nth, { [mark]: !style[mark] })"
      >
        {{ words.styleRules.marks[mark] }}
      </button>
    </div>
  </div>
  <VBtn size="small" @click="add">{{ words.styleRules.addAStyleRule }}</VBtn>
</template>

<style scoped>
.rule {
  display: grid;
  gap: 9px;
}
.touched {
  font-size: 11px;
  color: var(--ink-soft);
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.mark {
  font: 12px var(--font-text);
  color: inherit;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--sheet);
  padding: 2px 9px;
  cursor: pointer;
}
.mark[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
.bold {
  font-weight: 600;
}
.italic {
  font-style: italic;
}
.struck {
  text-decoration: line-through;
}
</style>
