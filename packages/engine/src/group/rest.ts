/** Instead of a level's code: the groups that are one together. It comes after all codes. */
export const REST = 0xffffffff
