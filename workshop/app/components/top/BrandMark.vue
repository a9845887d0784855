<script setup lang="ts">
import { words } from '~/words'
</script>

<template>
  <NuxtLink to="/" class="brand" :aria-label="words.brandMark.vastMeadowToTheShelf"
    >{{ words.brandMark.vast }} <em>{{ words.brandMark.meadow }}</em></NuxtLink
  >
</template>

<style scoped>
.brand {
  font: 600 18px var(--font-display);
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}
.brand em {
  font-style: normal;
  color: var(--moss);
}
</style>
