import { pluralsOf } from '@vast-meadow/engine/german'

export const countIn = pluralsOf('de')

export const rows = (shown: string, count: number): string =>
  countIn(count, { one: '1 Zeile', other: '# Zeilen' }, shown)
