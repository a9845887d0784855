import type { Refusal } from '../question/abilities.ts'

/** The plain sentence for a refusal. */
export function refusalText(refusal: Refusal): string {
  switch (refusal.code) {
    case 'rows-computed':
      return 'These rows are worked out from their number when they are looked at, so nobody can search them all.'
    case 'service-cannot':
      return `${refusal.service} does not offer this.`
  }
}
