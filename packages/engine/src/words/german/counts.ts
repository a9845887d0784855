import { pluralsOf } from '../plural.ts'

export const countIn = pluralsOf('de')
