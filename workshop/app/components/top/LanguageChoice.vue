<script setup lang="ts">
import { mdiTranslate } from '@mdi/js'
import { words } from '~/words'
import { language, LANGUAGES, speak, type Language } from '~/words/languages'

const choices = Object.entries(LANGUAGES).map(([value, { name }]) => ({ value: value as Language, name }))
const chosen = ref(language)
</script>

<template>
  <label class="language">
    <VIcon :icon="mdiTranslate" size="16" aria-hidden="true" />
    <select v-model="chosen" :aria-label="words.languageChoice.language" @change="speak(chosen)">
      <option v-for="{ value, name } in choices" :key="value" :value="value" :lang="value">{{ name }}</option>
    </select>
  </label>
</template>

<style scoped>
.language {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  color: var(--ink-soft);
}
select {
  min-block-size: 32px;
  padding-inline: 2px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: inherit;
  font: inherit;
}
select:hover {
  color: var(--ink);
}
option {
  background: var(--panel);
  color: var(--ink);
}
</style>
