import { defineStore } from 'pinia'
import { useTheme } from 'vuetify'

const KEY = 'vast-meadow-dark'
const PANEL_KEY = 'vast-meadow-panel'

/** How wide the panel may be, in CSS px. */
export const PANEL_WIDTHS = { least: 240, usual: 300, most: 640 } as const

/** What a person prefers on this machine, whatever grid is open. */
export const usePreferences = defineStore('preferences', () => {
  const theme = useTheme()
  const dark = ref(localStorage.getItem(KEY) === 'yes')

  function apply(): void {
    document.documentElement.classList.toggle('dark', dark.value)
    theme.change(dark.value ? 'dark' : 'light')
  }

  function toggleDark(): void {
    dark.value = !dark.value
    localStorage.setItem(KEY, dark.value ? 'yes' : 'no')
    apply()
  }

  const panelWidth = ref(within(Number(localStorage.getItem(PANEL_KEY)) || PANEL_WIDTHS.usual))

  function setPanelWidth(px: number): void {
    panelWidth.value = within(px)
    localStorage.setItem(PANEL_KEY, String(panelWidth.value))
  }

  return { dark, apply, toggleDark, panelWidth, setPanelWidth }
})

const within = (px: number): number =>
  Math.round(Math.max(PANEL_WIDTHS.least, Math.min(PANEL_WIDTHS.most, px)))
