/** Rows as Apache Arrow lays them, column by column. */
export const ARROW_STREAM = 'application/vnd.apache.arrow.stream'

/** In which rows can be had. */
export const ANSWER_FORMATS = ['application/json', ARROW_STREAM] as const
