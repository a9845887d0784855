import { defineStore } from 'pinia'
import { useTheme } from 'vuetify'

const KEY = 'vast-meadow-dark'

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

  return { dark, apply, toggleDark }
})
