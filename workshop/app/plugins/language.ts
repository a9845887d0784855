import { language, LANGUAGES } from '~/words/languages'

/** The document says in which language it is, and where its lines begin. */
export default defineNuxtPlugin(() => {
  document.documentElement.lang = language
  document.documentElement.dir = LANGUAGES[language].direction
})
