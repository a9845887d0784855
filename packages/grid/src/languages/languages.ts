import type { MeadowOptions } from '../kernel/options.ts'
import { defaultTexts, type Texts } from '../kernel/texts.ts'

const added = new Map<string, Texts>()

/**
 * Adds a language of the grid's own texts: grids that are mounted from now on and whose definition has a `locale` of this
 * language speak it. `language`: a language subtag (BCP 47), as in `de`.
 */
export function addLanguage(language: string, texts: Texts): void {
  added.set(language, texts)
}

/** What a grid says: the host's own words, then those of the language it is in, then English. */
export function textsOf({ definition, locale, texts }: MeadowOptions): Texts {
  const spoken = spokenIn(definition?.locale ?? locale)
  if (!texts) return spoken
  return {
    ...spoken,
    ...texts,
    editing: { ...spoken.editing, ...texts.editing },
    conditions: { ...spoken.conditions, ...texts.conditions },
  }
}

/** A locale that can be written in; undefined: there is none, or it is no tag at all. */
export function knownLocale(locale: unknown): string | undefined {
  try {
    return typeof locale === 'string' ? new Intl.Locale(locale).toString() : undefined
  } catch {
    // A definition that has it is told to be wrong by whoever reads it.
    return undefined
  }
}

function spokenIn(locale: unknown): Texts {
  const known = knownLocale(locale)
  return (known && added.get(new Intl.Locale(known).language)) || defaultTexts
}
