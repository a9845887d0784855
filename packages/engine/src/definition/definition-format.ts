/** By what a definition says that it is one, and in which version it is written. */
export const DEFINITION_FORMAT = 'vast-meadow-grid'
export const DEFINITION_VERSION = 3
