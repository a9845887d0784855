/** The languages of the workshop: their names in themselves, how they write counts and dates, and where they begin. */
export const LANGUAGES = {
  en: { name: 'English', locale: 'en-GB', direction: 'ltr' },
  de: { name: 'Deutsch', locale: 'de-DE', direction: 'ltr' },
  // Figures stand beside units and code, which have Latin digits.
  ar: { name: 'العربية', locale: 'ar-u-nu-latn', direction: 'rtl' },
} as const
export type Language = keyof typeof LANGUAGES

const KEY = 'vast-meadow-language'

const isLanguage = (given: string | null): given is Language =>
  given !== null && Object.hasOwn(LANGUAGES, given)

/** The language that was chosen here, else the first of the browser’s that is known, else English. */
function chosen(): Language {
  const { localStorage: kept, navigator: browser } = globalThis as Partial<typeof globalThis>
  const told = kept?.getItem(KEY) ?? null
  if (isLanguage(told)) return told
  const wanted = (browser?.languages ?? []).map(tag => tag.split('-', 1)[0])
  return wanted.find(isLanguage) ?? 'en'
}

/** The language that is spoken, until the page is loaded anew. */
export const language = chosen()

/** Everything is said anew: the page loads once more. */
export function speak(wanted: Language): void {
  localStorage.setItem(KEY, wanted)
  location.reload()
}
