<script setup lang="ts">
import { sentences, words } from '~/words'
import { type Finding, type Remedy } from '@vast-meadow/engine'
import { useFindings } from '~/stores/findings'

const found = useFindings()
const busy = ref(false)

async function apply(finding: Finding, remedy: Remedy): Promise<void> {
  busy.value = true
  try {
    await found.apply(finding, remedy)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section>
    <h2>{{ words.findingsPanel.findings }}</h2>
    <p class="lead">
      {{
        found.findings.length === 0
          ? words.findingsPanel.nothingIsNoticedAboutThis
          : words.findingsPanel.whatIsWrongOrRisky
      }}
    </p>
    <ul class="findings">
      <li
        v-for="finding in found.findings"
        :key="sentences.finding(finding)"
        class="box"
        :class="finding.severity"
      >
        <p class="what">{{ sentences.finding(finding) }}</p>
        <p class="soft figure place">{{ finding.place || words.findingsPanel.howRowsAreRead }}</p>
        <div class="remedies">
          <VBtn
            v-for="(remedy, nth) in finding.remedies"
            :key="nth"
            size="small"
            :disabled="busy"
            @click="apply(finding, remedy)"
            >{{ sentences.remedy(finding, remedy) }}</VBtn
          >
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.findings {
  list-style: none;
  margin: 0;
  padding: 0;
}
.findings li.box {
  border-inline-start: 3px solid var(--straw);
}
.findings li.box.problem {
  border-inline-start-color: var(--poppy);
}
.what {
  overflow-wrap: anywhere;
}
.place {
  font-size: 11px;
  margin-block: 2px 8px;
}
.remedies {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.remedies :deep(.v-btn) {
  max-inline-size: 100%;
}
.remedies :deep(.v-btn__content) {
  white-space: normal;
  text-align: start;
}
</style>
