/**
 * The whole script of the engine's worker as a text, with all that it would load later: for pages where its file has no
 * address that a browser could fetch it from. The build writes it; here it is empty, and then there is none.
 */
export const entryText: string = ''
