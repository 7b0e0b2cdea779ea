/** A count with its word: `1 opener`, `2 openers`; where the plural is no -s it is given. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`
}
