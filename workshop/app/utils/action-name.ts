/** A name for a further action that none of the others has, and its number. */
export function nextActionName(actions: readonly { readonly name: string }[]): {
  readonly name: string
  readonly nth: number
} {
  const names = new Set(actions.map(({ name }) => name))
  let nth = actions.length + 1
  while (names.has(`action_${nth}`)) nth++
  return { name: `action_${nth}`, nth }
}
