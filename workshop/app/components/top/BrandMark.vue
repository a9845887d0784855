<template>
  <NuxtLink to="/" class="brand" aria-label="Vast Meadow, to the shelf">Vast <em>Meadow</em></NuxtLink>
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
