/** What writes workbooks around the rows of their sheets; it is loaded when the first is asked for. */
export const loadWorkbook = (): Promise<typeof import('./workbook-file.ts')> => import('./workbook-file.ts')
