interface TruthWords {
  readonly yes: string
  readonly no: string
}

/** By language subtag; all others say what the format does where it says nothing. */
const WORDS: Readonly<Record<string, TruthWords>> = {
  de: { yes: 'ja', no: 'nein' },
  ar: { yes: 'نعم', no: 'لا' },
}

/** How the language of a locale says true and false; empty where that is not known here. */
export function truthWords(locale: string | undefined): Partial<TruthWords> {
  const language = locale?.split('-', 1)[0].toLowerCase() ?? ''
  return Object.hasOwn(WORDS, language) ? WORDS[language] : {}
}
