import type { Format } from '../table/format.ts'
import { truthWords } from '../table/truth-words.ts'
import type { Definition } from './definition.ts'

/** By column: how it writes values, in the definition's language and zone where it says none. `now`: for relative dates. */
export const formatsOf = (
  { columns, locale, zone }: Pick<Definition, 'columns' | 'locale' | 'zone'>,
  now: number,
): Readonly<Record<string, Format>> =>
  Object.fromEntries(
    columns.map(({ key, format }) => [
      key,
      {
        ...truthWords(format.locale ?? locale),
        locale,
        zone,
        ...format,
        ...(format.date === 'relative' ? { now } : {}),
      },
    ]),
  )
