import { pluralsOf, type PluralForms } from '@vast-meadow/engine/arabic'

const countIn = pluralsOf('ar')
const counted =
  (forms: PluralForms) =>
  (shown: string, count: number): string =>
    countIn(count, forms, shown)

export const rows = counted({
  zero: 'لا صفوف',
  one: 'صف واحد',
  two: 'صفان',
  few: '# صفوف',
  many: '# صفًا',
  other: '# صف',
})
export const cells = counted({
  zero: 'لا خلايا',
  one: 'خلية واحدة',
  two: 'خليتان',
  few: '# خلايا',
  many: '# خلية',
  other: '# خلية',
})
export const groups = counted({
  zero: 'لا مجموعات',
  one: 'مجموعة واحدة',
  two: 'مجموعتان',
  few: '# مجموعات',
  many: '# مجموعة',
  other: '# مجموعة',
})
export const changes = counted({
  zero: 'لا تغييرات',
  one: 'تغيير واحد',
  two: 'تغييران',
  few: '# تغييرات',
  many: '# تغييرًا',
  other: '# تغيير',
})
export const conflicts = counted({
  zero: 'لا تعارضات',
  one: 'تعارض واحد',
  two: 'تعارضان',
  few: '# تعارضات',
  many: '# تعارضًا',
  other: '# تعارض',
})
