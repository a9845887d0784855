import { addLanguage } from './languages.ts'
import { arabic } from './arabic.ts'

// Whoever imports this has the language: grids whose definition has a locale of it speak Arabic.
addLanguage('ar', arabic)

export { arabic }
