/** Words that mean something else in an expression. */
const RESERVED_WORDS = new Set(
  'row fact math has true false null in as break const continue else for function if import let loop package namespace return var void while'.split(
    ' ',
  ),
)

/** How a field is written in an expression: bare where its name can be, else in brackets. */
export const fieldReference = (key: string): string =>
  /^[A-Za-z_]\w*(\.[A-Za-z_]\w*)*$/.test(key) && !key.split('.').some(part => RESERVED_WORDS.has(part))
    ? key
    : `row[${JSON.stringify(key)}]`
