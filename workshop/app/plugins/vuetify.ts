import { createVuetify } from 'vuetify'
import { ar, de, en } from 'vuetify/locale'
import { language } from '~/words/languages'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const light = {
  dark: false,
  colors: {
    background: '#f3f1e6',
    surface: '#fbfaf4',
    primary: '#2f6b4f',
    secondary: '#3f639d',
    error: '#b4432a',
    warning: '#8a6410',
    'on-background': '#22302b',
    'on-surface': '#22302b',
  },
}
const dark = {
  dark: true,
  colors: {
    background: '#121613',
    surface: '#1b211d',
    primary: '#8cc7a4',
    secondary: '#8fb0e4',
    error: '#ee8f74',
    warning: '#e0b95c',
    'on-background': '#e4e8df',
    'on-surface': '#e4e8df',
    'on-primary': '#10251a',
  },
}

export default defineNuxtPlugin(app => {
  const vuetify = createVuetify({
    locale: { locale: language, fallback: 'en', messages: { en, de, ar } },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    theme: { defaultTheme: 'light', cspNonce: styleNonce(), themes: { light, dark } },
    defaults: {
      global: { ripple: false },
      VBtn: { variant: 'outlined', density: 'comfortable', color: undefined },
      VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VCombobox: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VAutocomplete: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VCheckbox: { density: 'compact', hideDetails: true, color: 'primary' },
      VSwitch: { density: 'compact', hideDetails: true, color: 'primary', inset: true },
      VCard: { variant: 'outlined' },
    },
  })
  app.vueApp.use(vuetify)
})
