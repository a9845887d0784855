import { defineStore } from 'pinia'

export const ANSWERS = ['takes', 'refuses', 'quicker', 'down'] as const
export type Answer = (typeof ANSWERS)[number]

/** How the stand-in service answers when what was changed in the frame is saved, and what it changes by itself. */
export const useTryingSaves = defineStore('trying-saves', () => {
  const how = ref<Answer>('takes')
  const latencyMs = ref(300)
  /** Rows that change by themselves, a second. */
  const rate = ref(0)
  return { how, latencyMs, rate }
})
