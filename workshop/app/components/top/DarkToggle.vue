<script setup lang="ts">
import { mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { words } from '~/words'
import { usePreferences } from '~/stores/preferences'

const preferences = usePreferences()
const name = computed(() => (preferences.dark ? words.darkToggle.light : words.darkToggle.dark))
</script>

<template>
  <VBtn class="dark" :aria-label="name" :title="name" @click="preferences.toggleDark()">
    <VIcon :icon="preferences.dark ? mdiWhiteBalanceSunny : mdiWeatherNight" />
  </VBtn>
</template>

<style scoped>
.dark {
  min-inline-size: 32px;
  padding-inline: 0;
  border-color: transparent;
  background: none;
  color: var(--ink-soft);
}
.dark:hover {
  background: color-mix(in srgb, var(--ink) 7%, transparent);
  color: var(--ink);
}
</style>
