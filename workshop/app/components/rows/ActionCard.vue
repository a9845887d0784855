<script setup lang="ts" generic="Action extends ActionDefinition | BatchActionDefinition">
import { words } from '~/words'
import type { ActionDefinition, BatchActionDefinition, Field } from '@vast-meadow/engine'
import { formatCount } from '~/utils/format'

/** An action, of a row or of the selected rows: what stands on its button, what is asked before, where it is there. */
const {
  action,
  fields,
  touched = {},
} = defineProps<{
  action: Action
  fields: readonly Field[]
  removable: boolean
  /** In how many rows its rules hold. */
  touched?: Readonly<Partial<Record<'shown' | 'when', number | null>>>
}>()
const emit = defineEmits<{ set: [change: Partial<ActionDefinition>]; remove: [] }>()

const RULES = [
  ['shown', words.actionCard.shownWhen, words.actionCard.notEverywhere, words.actionCard.everywhere],
  ['when', words.actionCard.canBeUsedWhen, words.actionCard.onlyInSomeRows, words.actionCard.inAllRows],
] as const
</script>

<template>
  <div class="box action">
    <VTextField
      :model-value="action.title"
      :label="words.actionCard.onTheButton"
      @change="$event.target.value && emit('set', { title: $event.target.value })"
    />
    <VTextField
      :model-value="action.name"
      :label="words.actionCard.nameInCode"
      @change="$event.target.value && emit('set', { name: $event.target.value })"
    />
    <VTextField
      :model-value="action.confirm ?? ''"
      :label="words.actionCard.asksBefore"
      @change="emit('set', { confirm: $event.target.value || undefined })"
    />
    <ToneSelect
      :model-value="action.tone ?? 'stone'"
      :label="words.actionCard.tone"
      @update:model-value="emit('set', { tone: $event })"
    />
    <template v-for="[rule, label] of RULES" :key="rule">
      <ExpressionField
        v-if="action[rule] !== undefined"
        :model-value="action[rule]"
        :fields="fields"
        :label="label"
        wanted="boolean"
        @update:model-value="emit('set', { [rule]: $event })"
      />
      <p v-if="action[rule] !== undefined && touched[rule] != null" class="soft figure touched" role="status">
        {{ words.actionCard.inRows(formatCount(touched[rule]!)) }}
      </p>
    </template>
    <VCheckbox
      :model-value="action.deletes"
      :label="words.actionCard.takesRowsOut"
      @update:model-value="emit('set', { deletes: $event === true })"
    />
    <p class="row">
      <button
        v-for="[rule, , some, all] of RULES"
        :key="rule"
        type="button"
        class="link-button"
        @click="emit('set', { [rule]: action[rule] === undefined ? 'true' : undefined })"
      >
        {{ action[rule] === undefined ? some : all }}
      </button>
      <button v-if="removable" type="button" class="link-button push" @click="emit('remove')">
        {{ words.actionCard.takeOut }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.action {
  display: grid;
  gap: 8px;
  margin-block-start: 10px;
}
.touched {
  margin: -6px 0 0;
  font-size: 11.5px;
}
</style>
