import { language, LANGUAGES } from './languages'

/** The languages that a grid itself speaks, by their subtag: with which locale it is chosen, and how it is loaded. */
export const GRID_LANGUAGES = {
  en: { locale: 'en-GB', name: LANGUAGES.en.name, load: () => Promise.resolve(), module: null },
  de: {
    locale: 'de-DE',
    name: LANGUAGES.de.name,
    load: () => import('@vast-meadow/grid/german'),
    module: '@vast-meadow/grid/german',
  },
  ar: {
    // Columns that are written plainly have Latin digits: all others do then as well.
    locale: 'ar-EG-u-nu-latn',
    name: LANGUAGES.ar.name,
    load: () => import('@vast-meadow/grid/arabic'),
    module: '@vast-meadow/grid/arabic',
  },
} as const

/** New grids are in the language in which they are built; English needs not be said. */
export const usualLocale: string | undefined = language === 'en' ? undefined : GRID_LANGUAGES[language].locale

/** How the grid speaks in a locale: in English where nothing else is known. */
export function gridLanguageOf(
  locale: string | undefined,
): (typeof GRID_LANGUAGES)[keyof typeof GRID_LANGUAGES] {
  const subtag = locale?.split('-', 1)[0].toLowerCase() ?? 'en'
  return Object.hasOwn(GRID_LANGUAGES, subtag)
    ? GRID_LANGUAGES[subtag as keyof typeof GRID_LANGUAGES]
    : GRID_LANGUAGES.en
}

/** Scripts whose lines begin at the right (Unicode, `Bidi_Class` R and AL), of languages in use. */
const FROM_THE_RIGHT = ['Adlm', 'Arab', 'Hebr', 'Nkoo', 'Rohg', 'Syrc', 'Thaa']

/** Where lines begin in a locale. */
export function directionOf(locale: string | undefined): 'ltr' | 'rtl' {
  const script = locale === undefined ? undefined : new Intl.Locale(locale).maximize().script
  return script !== undefined && FROM_THE_RIGHT.includes(script) ? 'rtl' : 'ltr'
}
