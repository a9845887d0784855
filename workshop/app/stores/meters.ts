import { defineStore } from 'pinia'
import {
  emptySession,
  freshStages,
  slowerMarks,
  withChange,
  withFrame,
  withMark,
  type MeterSession,
} from '~/meters/session'
import { useOpenGrid } from './open-grid'

const KEPT_AS = 'vast-meadow-meters'

/** What was measured of the open grid since the session began; a reload does not lose it. */
export const useMeters = defineStore('meters', () => {
  const grid = useOpenGrid()
  const sessions = shallowRef<Readonly<Record<string, MeterSession>>>(stored())
  const open = ref(false)
  let timer = 0

  const session = computed(() => sessions.value[grid.saved?.id ?? ''] ?? emptySession)
  const slower = computed(() => slowerMarks(session.value))

  function set(next: MeterSession): void {
    const id = grid.saved?.id
    if (!id) return
    sessions.value = { ...sessions.value, [id]: next }
    window.clearTimeout(timer)
    timer = window.setTimeout(() => store(sessions.value), 500)
  }

  watch(
    () => grid.measures,
    (now, before) => {
      if (!now) return
      const at = Date.now()
      const { report } = grid
      if (now.changeMs !== before?.changeMs && report) {
        const stages = freshStages(report)
        set(withChange(session.value, { at, name: grid.undoable || 'opening', ms: now.changeMs, stages }))
      } else if (now.frameMs !== before?.frameMs)
        set(withFrame(session.value, { at, ms: now.frameMs, elements: now.elements }))
    },
  )
  watch(
    () => grid.definition,
    (now, before) => {
      if (now && before) set(withMark(session.value, { at: Date.now(), name: grid.undoable || 'definition' }))
    },
  )

  return { session, slower, open }
})

function stored(): Record<string, MeterSession> {
  try {
    return (JSON.parse(sessionStorage.getItem(KEPT_AS) ?? '{}') ?? {}) as Record<string, MeterSession>
  } catch {
    return {}
  }
}

function store(sessions: Readonly<Record<string, MeterSession>>): void {
  try {
    sessionStorage.setItem(KEPT_AS, JSON.stringify(sessions))
  } catch {
    // Without storage the figures last as long as the page.
  }
}
