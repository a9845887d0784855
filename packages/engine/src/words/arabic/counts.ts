import { pluralsOf } from '../plural.ts'

export const countIn = pluralsOf('ar')

/** Rows with their count. */
export const ROWS = {
  zero: 'لا صفوف',
  one: 'صف واحد',
  two: 'صفان',
  few: '# صفوف',
  many: '# صفًا',
  other: '# صف',
} as const
export const COLUMNS = {
  zero: 'لا أعمدة',
  one: 'عمود واحد',
  two: 'عمودان',
  few: '# أعمدة',
  many: '# عمودًا',
  other: '# عمود',
} as const
export const VALUES = {
  zero: 'لا قيم',
  one: 'قيمة واحدة',
  two: 'قيمتان',
  few: '# قيم',
  many: '# قيمة',
  other: '# قيمة',
} as const
