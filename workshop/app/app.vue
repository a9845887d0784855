<script setup lang="ts">
import { usePreferences } from '~/stores/preferences'

usePreferences().apply()
</script>

<template>
  <VApp>
    <NuxtPage />
  </VApp>
</template>
