export interface Choice {
  value: string
  label: string
}

/** The choices that fit what was typed: those that begin with it before those that hold it. */
export function fitting(choices: Choice[], typed: string): Choice[] {
  const wanted = typed.trim().toLowerCase()
  if (!wanted) return choices.slice(0, 40)
  const begins = choices.filter((c) => c.label.toLowerCase().startsWith(wanted))
  const holds = choices.filter((c) => !begins.includes(c) && c.label.toLowerCase().includes(wanted))
  return [...begins, ...holds].slice(0, 40)
}

export function asChoices(values: readonly string[]): Choice[] {
  return values.map((value) => ({ value, label: value.replaceAll('_', ' ') }))
}
