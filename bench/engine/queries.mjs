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
  'search, one word, all columns': word => `select id from t where ${anywhere(word)}`,
  'search, two words, all columns': (word, round) =>
    `select id from t where ${anywhere(word)} and ${anywhere(word.slice(0, 3) + round)}`,
  'group by one column, counted': () => 'select species, count(*) from t group by species order by species',
}

const anywhere = word =>
  `(${['species', 'site', 'state', 'note'].map(key => `contains(lower(${key}), '${word}')`).join(' or ')} or ${[
    'id',
    'cover',
    'biomass',
    'count',
    'day',
    'seen',
  ]
    .map(key => `contains(cast(${key} as varchar), '${word}')`)
    .join(' or ')})`
