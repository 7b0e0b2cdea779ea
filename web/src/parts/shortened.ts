/** A text of so many characters at the most, with … where it is cut; the whole of it belongs in a title. */
export function shortened(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, Math.max(most - 1, 0)).trimEnd()}…`
}
