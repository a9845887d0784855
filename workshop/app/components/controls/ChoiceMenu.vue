<script setup lang="ts">
/** One of many values, from a list that opens under a small button. The list is made when it is first asked for. */
const { label, text, choices, disabled } = defineProps<{
  label: string
  text: string
  choices: readonly { readonly title: string; readonly value: number }[]
  disabled?: boolean
}>()
const emit = defineEmits<{ choose: [value: number] }>()
const button = useTemplateRef<HTMLButtonElement>('button')
const open = ref(false)
const made = ref(false)
const id = useId()

async function toggle(): Promise<void> {
  if (!made.value) {
    made.value = true
    await nextTick()
  }
  open.value = !open.value
}

function choose(value: number): void {
  open.value = false
  button.value?.focus()
  emit('choose', value)
}
</script>

<template>
  <button
    ref="button"
    type="button"
    role="combobox"
    class="choice"
    :aria-label="label"
    aria-haspopup="listbox"
    :aria-expanded="open"
    :aria-controls="id"
    :disabled="disabled"
    @click="toggle"
    @keydown.down.prevent="open || toggle()"
  >
    <slot>{{ text }}</slot>
  </button>
  <VMenu v-if="made" v-model="open" :activator="button ?? undefined" :open-on-click="false" max-height="360">
    <VList :id="id" role="listbox" :aria-label="label" density="compact">
      <VListItem
        v-for="choice in choices"
        :key="choice.value"
        role="option"
        :title="choice.title"
        :active="choice.title === text"
        :aria-selected="choice.title === text"
        @click="choose(choice.value)"
      />
    </VList>
  </VMenu>
</template>

<style scoped>
.choice {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  font: 12px var(--font-text);
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 3px 7px;
  max-inline-size: 170px;
  white-space: nowrap;
  overflow: clip;
  cursor: pointer;
}
.choice::after {
  content: '';
  flex: none;
  inline-size: 5px;
  block-size: 5px;
  border: solid currentColor;
  border-width: 0 1.5px 1.5px 0;
  transform: translateY(-2px) rotate(45deg);
  opacity: 0.6;
}
.choice:hover:enabled {
  border-color: var(--ink-soft);
}
.choice:disabled {
  opacity: 0.5;
}
</style>
