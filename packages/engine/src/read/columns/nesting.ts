/** Objects inside objects are followed so deep; what lies deeper is kept as its JSON text. */
export const MAX_DEPTH = 8
