<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { words } from '~/words'
import { seedTests, type Seed, type SeedTest } from '~/demo/seed-tests'

/** What an opened row of the seed library shows: its picture, what is known of it, and how it germinated over the years. */
const { seed } = defineProps<{ seed: Seed }>()
const emit = defineEmits<{ close: [] }>()

const [WIDTH, HEIGHT, EDGE] = [330, 104, 28]
const tests = computed(() => seedTests(seed))
const first = computed(() => tests.value[0]!)
const last = computed(() => tests.value.at(-1)!)
const x = computed(() => scaleLinear([first.value.year, last.value.year], [EDGE, WIDTH - EDGE]))
const y = scaleLinear([0, 100], [HEIGHT - EDGE, 14])
const course = computed(
  () =>
    line<SeedTest>(
      ({ year }) => x.value(year),
      ({ percent }) => y(percent),
    )(tests.value) ?? '',
)
const said = computed(() =>
  tests.value.map(({ percent, year }) => words.seedCard.percentIn(percent, year)).join(', '),
)
</script>

<template>
  <article class="card">
    <img v-if="seed.picture_address" :src="seed.picture_address" :alt="seed.name" width="96" height="96" />
    <div class="about">
      <h4>{{ seed.name }}</h4>
      <p class="figure">{{ seed.accession }}</p>
      <p>{{ seed.remark ?? words.seedCard.noRemark }}</p>
      <p class="soft">{{ words.seedCard.kept(seed.keeper ?? '–', seed.shelf ?? '–') }}</p>
      <button type="button" class="link-button" @click="emit('close')">{{ words.seedCard.close }}</button>
    </div>
    <figure>
      <figcaption>{{ words.seedCard.germination }}</figcaption>
      <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="said">
        <g v-for="percent of [0, 50, 100]" :key="percent">
          <line class="rule" :x1="EDGE" :x2="WIDTH - EDGE" :y1="y(percent)" :y2="y(percent)" />
          <text class="year" :x="EDGE - 4" :y="y(percent) + 3" text-anchor="end">{{ percent }}</text>
        </g>
        <path class="course" :d="course" />
        <circle
          v-for="test of tests"
          :key="test.year"
          class="test"
          :cx="x(test.year)"
          :cy="y(test.percent)"
          r="2.4"
        />
        <text class="year" :x="x(first.year)" :y="HEIGHT - 6">{{ first.year }}</text>
        <text class="year" :x="x(last.year)" :y="HEIGHT - 6" text-anchor="end">{{ last.year }}</text>
        <text class="now" :x="x(last.year)" :y="y(last.percent) - 7" text-anchor="end">
          {{ last.percent }} %
        </text>
      </svg>
    </figure>
  </article>
</template>

<style scoped>
.card {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 24px;
  align-items: flex-start;
  padding: 14px 18px;
  font: 13px/1.45 var(--font-text);
  color: var(--ink);
}
img {
  border-radius: 8px;
  background: var(--panel);
  border: 1px solid var(--rule);
  object-fit: contain;
}
.about {
  flex: 1 1 200px;
  max-inline-size: 340px;
}
h4 {
  font: 600 17px/1.2 var(--font-display);
  margin: 0;
}
p {
  margin: 3px 0 0;
  unicode-bidi: plaintext;
  text-align: start;
}
.link-button {
  margin-block-start: 6px;
}
figure {
  flex: 1 1 260px;
  max-inline-size: 380px;
  margin: 0;
}
figcaption {
  font-size: 12px;
  color: var(--ink-soft);
}
svg {
  inline-size: 100%;
  block-size: auto;
  direction: ltr;
}
.rule {
  stroke: var(--rule);
  stroke-width: 1;
}
.course {
  fill: none;
  stroke: var(--moss);
  stroke-width: 1.8;
}
.test {
  fill: var(--moss);
}
.year {
  font: 9.5px var(--font-code);
  fill: var(--ink-soft);
}
.now {
  font: 600 11px var(--font-code);
  fill: var(--ink);
}
</style>
