<script setup lang="ts">
/** One of a few values, as buttons of which the chosen one is pressed. */
const { title, choices, chosen, write, disabled } = defineProps<{
  title: string
  choices: readonly number[]
  chosen: number
  write: (choice: number) => string
  disabled: boolean
}>()
const emit = defineEmits<{ choose: [choice: number] }>()
const id = useId()
</script>

<template>
  <h3 :id="id">{{ title }}</h3>
  <div class="choices" role="group" :aria-labelledby="id">
    <VBtn
      v-for="choice in choices"
      :key="choice"
      size="small"
      :class="{ chosen: choice === chosen }"
      :aria-pressed="choice === chosen"
      :disabled="disabled"
      @click="emit('choose', choice)"
    >
      {{ write(choice) }}
    </VBtn>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.chosen {
  background: var(--ink);
  color: var(--paper);
}
</style>
