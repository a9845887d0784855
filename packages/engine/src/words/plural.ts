/** A noun with its count, by the category that a language's rules give the count; `#` stands for the count as it is written. */
export type PluralForms = Readonly<Partial<Record<Intl.LDMLPluralRule, string>>> & { readonly other: string }

/** Puts counts and nouns together by the plural rules of a language (Unicode CLDR, as `Intl.PluralRules` has them). */
export function pluralsOf(locale: string): (count: number, forms: PluralForms, written?: string) => string {
  const rules = new Intl.PluralRules(locale)
  return (count, forms, written = String(count)) =>
    (forms[rules.select(count)] ?? forms.other).replace('#', () => written)
}
