import { calendarFunctions } from './calendar-functions.ts'
import { conversions } from './conversions.ts'
import { numberFunctions } from './number-functions.ts'
import type { ScalarFunction } from './scalar-function.ts'
import { textFunctions } from './text-functions.ts'

/** All functions of the dialect but `has` and `matches`, which the checker knows itself. */
export const scalarFunctions: readonly ScalarFunction[] = [
  ...conversions,
  ...textFunctions,
  ...numberFunctions,
  ...calendarFunctions,
]

/** What completion and the guide tell of every function: how it is written, and what it gives. */
export const functionHelp: readonly { readonly written: string; readonly help: string }[] = [
  { written: 'has(field)', help: 'Whether the row has a value there.' },
  {
    written: '.matches("pattern")',
    help: 'Whether the pattern, in RE2 syntax, matches anywhere in the text.',
  },
  ...scalarFunctions,
]
