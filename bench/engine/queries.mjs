import { COLUMNS, digitsOf, TEXTS, WRITTEN } from './data.mjs'

// What the SQL rivals are asked, by operation; each answers with row ids. `word` is another one each round.
export const queries = {
  'order by a number with few decimals': () => 'select id from t order by cover',
  'order by an all-distinct number': () => 'select id from t order by biomass',
  'order by a 600-value text, collated': () => 'select id from t order by species collate nocase',
  'order by nearly all different texts, collated': () => 'select id from t order by note collate nocase',
  'order by three keys, mixed directions': () =>
    'select id from t order by species collate nocase, day desc, cover desc',
  'condition: text contains, nearly all values different': word =>
    `select id from t where contains(lower(note), '${word}')`,
  'condition: text contains, 600 values': word =>
    `select id from t where contains(lower(species), '${word.slice(0, 3)}')`,
  'condition: number range and one of two texts': (_word, round) =>
    `select id from t where cover between ${20 + round} and 40 and state in ('seen', 'confirmed')`,
  'search, one word, text columns': word => `select id from t where ${anywhere(word, TEXTS)}`,
  'search, two words, text columns': (word, round) =>
    `select id from t where ${anywhere(word, TEXTS)} and ${anywhere(word.slice(0, 3) + round, TEXTS)}`,
  'search, one word, all columns as shown': word => `select id from t where ${anywhere(word, COLUMNS)}`,
  'search, two words, all columns as shown': (word, round) =>
    `select id from t where ${anywhere(word, COLUMNS)} and ${anywhere(word.slice(0, 3) + round, COLUMNS)}`,
  'search, four digits, numbers and moments': (_word, round) =>
    `select id from t where ${anywhere(digitsOf(round), WRITTEN)}`,
  'group by one column, rows gathered': () =>
    'select species, count(*) from t group by species order by species',
  'group by one, five summaries': () => `select species, ${FIVE} from t group by species`,
  'group by two, five summaries': () => `select species, site, ${FIVE} from t group by species, site`,
  'group by three, five summaries': () =>
    `select species, site, state, ${FIVE} from t group by species, site, state`,
  'median by group': () => 'select species, median(cover) from t group by species',
  'distinct values by group': () => 'select site, count(distinct observer) from t group by site',
  'values with counts under a condition': (_word, round) =>
    `select species, count(*) from t where cover >= ${20 + round / 100} and state = 'seen' group by species`,
}

const FIVE = 'count(cover), sum(cover), avg(cover), min(cover), max(cover)'

const anywhere = (word, columns) =>
  `(${columns
    .map(key => `contains(${TEXTS.includes(key) ? `lower(${key})` : `cast(${key} as varchar)`}, '${word}')`)
    .join(' or ')})`
