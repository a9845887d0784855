<script setup lang="ts">
import { usePreferences } from '~/stores/preferences'

const preferences = usePreferences()
</script>

<template>
  <VBtn :aria-pressed="preferences.dark" @click="preferences.toggleDark()">
    {{ preferences.dark ? 'Light' : 'Dark' }}
  </VBtn>
</template>
