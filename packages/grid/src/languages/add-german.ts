import { addLanguage } from './languages.ts'
import { german } from './german.ts'

// Whoever imports this has the language: grids whose definition has a locale of it speak German.
addLanguage('de', german)

export { german }
