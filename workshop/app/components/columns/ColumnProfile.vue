<script setup lang="ts">
import { words } from '~/words'
import { max } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import type { Profile } from '@vast-meadow/engine'
import { formatCount } from '~/utils/format'

/** What a column holds, drawn small: a histogram, or shares of its most frequent values. */
const { profile, wide = false } = defineProps<{ profile: Profile | null; wide?: boolean }>()

const size = computed(() => (wide ? { width: 246, height: 54 } : { width: 76, height: 22 }))
const bars = computed(() => {
  if (!profile) return []
  const { width, height } = size.value
  if (profile.histogram.length > 0) {
    const y = scaleLinear([0, max(profile.histogram) || 1], [0, height])
    const step = width / profile.histogram.length
    return profile.histogram.map((rows, i) => {
      const tall = rows > 0 ? Math.max(1, y(rows)) : 0
      return { x: i * step, y: height - tall, width: step - (wide ? 1.5 : 0.6), height: tall, strength: 1 }
    })
  }
  // Shares of all rows side by side; what is left is told by the empty rest.
  const x = scaleLinear([0, profile.rows || 1], [0, width])
  let from = 0
  return profile.values.map(({ count }, i) => {
    const bar = {
      x: x(from),
      y: height * 0.3,
      width: Math.max(0.5, x(count) - 1),
      height: height * 0.4,
      strength: 1 - i * 0.17,
    }
    from += count
    return bar
  })
})
const share = (count: number): string => {
  const percent = (100 * count) / (profile?.rows || 1)
  return percent > 0 && percent < 1 ? words.columnProfile.under('1 %') : `${Math.round(percent)} %`
}
const said = computed(() => {
  if (!profile) return ''
  const { distinct, missing, lowShown, highShown } = profile
  const parts = [
    lowShown !== undefined ? words.columnProfile.range(lowShown, highShown ?? '') : '',
    distinct === null
      ? lowShown === undefined
        ? words.columnProfile.nearlyAllDifferent
        : ''
      : words.columnProfile.different(formatCount(distinct)),
    missing > 0 ? words.columnProfile.missing(share(missing)) : words.columnProfile.noneMissing,
  ]
  return parts.filter(Boolean).join(', ')
})
</script>

<template>
  <div class="profile" :class="{ wide }">
    <svg
      :viewBox="`0 0 ${size.width} ${size.height}`"
      role="img"
      :aria-label="said || words.columnProfile.notCountedYet"
    >
      <title>{{ said }}</title>
      <rect
        v-for="(bar, i) in bars"
        :key="i"
        :x="bar.x"
        :y="bar.y"
        :width="bar.width"
        :height="bar.height"
        :opacity="bar.strength"
      />
    </svg>
    <template v-if="wide && profile">
      <p class="soft figure">{{ said }}</p>
      <ul v-if="profile.values.length > 0" class="values">
        <li v-for="value in profile.values" :key="value.shown">
          <span>{{ value.shown }}</span>
          <i :style="{ inlineSize: `${Math.max(1, (100 * value.count) / (profile.rows || 1))}%` }" />
          <span class="figure">{{ formatCount(value.count) }}</span>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
svg {
  display: block;
  inline-size: 76px;
  block-size: 22px;
}
.wide svg {
  inline-size: 100%;
  block-size: 54px;
}
rect {
  fill: var(--moss-stream);
}
.wide .figure {
  font-size: 11px;
  margin-block: 5px;
}
.values {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 12px;
}
.values li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 70px auto;
  gap: 8px;
  align-items: center;
}
.values span:first-child {
  overflow: clip;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.values i {
  block-size: 6px;
  border-radius: 3px;
  background: var(--moss-stream);
  max-inline-size: 100%;
}
</style>
