<script setup lang="ts">
const { code, label } = defineProps<{ code: string; label: string }>()
const copied = ref(false)

async function copy(): Promise<void> {
  await navigator.clipboard.writeText(code)
  copied.value = true
  setTimeout(() => (copied.value = false), 1500)
}
</script>

<template>
  <div class="block">
    <button type="button" class="copy" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</button>
    <pre tabindex="0" role="region" :aria-label="label"><code>{{ code }}</code></pre>
  </div>
</template>

<style scoped>
.block {
  position: relative;
}
pre {
  margin: 0;
  font-size: 11px;
  line-height: 1.5;
  background: color-mix(in srgb, var(--paper) 75%, var(--sheet));
  border: 1px solid var(--rule-soft);
  border-radius: 6px;
  padding: 9px 11px;
  overflow: auto;
  max-block-size: 240px;
  white-space: pre;
  scrollbar-width: thin;
  padding-block-start: 30px;
}
.copy {
  position: absolute;
  inset-block-start: 6px;
  inset-inline-end: 6px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
  font-size: 12px;
  padding: 1px 8px;
  cursor: pointer;
}
</style>
