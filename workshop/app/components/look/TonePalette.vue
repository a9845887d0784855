<script setup lang="ts">
import { words } from '~/words'
import { contrast, PALETTE, PAPERS, TONES, type Look, type Tone } from '@vast-meadow/engine'

/** The colours behind the tones, on light and on dark paper, each with its contrast by WCAG 2. */
const { look } = defineProps<{ look: Look }>()
const emit = defineEmits<{ set: [palette: Look['palette']] }>()

const ENOUGH = 4.5
const SIDES = ['light', 'dark'] as const

const tones = computed(() =>
  TONES.map(tone => {
    const colours = look.palette[tone] ?? PALETTE[tone]
    const sides = SIDES.map(side => {
      const ratio = contrast(colours[side], PAPERS[side])
      return { side, colour: colours[side], ratio: ratio.toFixed(1), enough: ratio >= ENOUGH }
    })
    return { tone, sides, own: look.palette[tone] !== undefined }
  }),
)

function set(tone: Tone, side: 'light' | 'dark', colour: string): void {
  emit('set', { ...look.palette, [tone]: { ...(look.palette[tone] ?? PALETTE[tone]), [side]: colour } })
}

function reset(tone: Tone): void {
  const { [tone]: _dropped, ...others } = look.palette
  emit('set', others)
}
</script>

<template>
  <h3>{{ words.tonePalette.palette }}</h3>
  <p class="soft">{{ words.tonePalette.theFigureIsTheContrast(ENOUGH) }}</p>
  <ul class="tones">
    <li v-for="{ tone, sides, own } in tones" :key="tone">
      <span class="name">{{ tone }}</span>
      <label v-for="{ side, colour, ratio, enough } in sides" :key="side" :class="{ short: !enough }">
        <input
          type="color"
          :value="colour"
          :aria-label="words.tonePalette.onPaperContrast(tone, side, ratio)"
          @change="set(tone, side, ($event.target as HTMLInputElement).value)"
        />
        <span class="figure">{{ ratio }}{{ enough ? '' : ' low' }}</span>
      </label>
      <button
        v-if="own"
        type="button"
        class="link-button"
        :aria-label="words.tonePalette.theUsual(tone)"
        @click="reset(tone)"
      >
        {{ words.tonePalette.usual }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.tones {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 78px 78px 44px;
  align-items: center;
  gap: 4px;
  block-size: 30px;
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 11px;
  color: var(--ink-soft);
}
.short {
  color: var(--poppy);
}
input {
  inline-size: 26px;
  block-size: 20px;
  padding: 0;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: none;
  cursor: pointer;
}
</style>
