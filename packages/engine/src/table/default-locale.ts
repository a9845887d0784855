/** The language in which values are written where a definition names none. */
export const DEFAULT_LOCALE = 'en-GB'
