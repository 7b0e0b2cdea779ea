export interface Choice {
  value: string
  label: string
  /** The type of what is made by choosing it, under the name that was typed. */
  makes?: string
}

/**
 * The choices that fit what was typed: those that begin with it before those that hold it, by label or by name in
 * cues.
 */
export function fitting(choices: Choice[], typed: string): Choice[] {
  const wanted = typed.trim().toLowerCase()
  if (!wanted) return choices
  const made = choices.filter((c) => c.makes)
  const spoken = choices.filter((c) => !c.makes).map((choice) => ({ choice, text: choice.label.toLowerCase() }))
  const begins = spoken.filter((c) => c.text.startsWith(wanted))
  const holds = spoken.filter(
    (c) => !c.text.startsWith(wanted) && (c.text.includes(wanted) || c.choice.value.startsWith(wanted)),
  )
  const found = [...begins, ...holds].map((c) => c.choice)
  const named = found.some((c) => c.label.toLowerCase() === wanted)
  return [...found, ...(named ? [] : made.map((c) => ({ ...c, label: `${c.label} “${typed.trim()}”` })))]
}

/** What was typed as a choice of its own where a number, or words of any sort, can stand. */
export function typedOut(typed: string, free: 'number' | 'words' | undefined): Choice[] {
  const text = typed.trim()
  if (!text || !free || (free === 'number' && !/^-?\d+([.,]\d+)?$/.test(text))) return []
  return [{ value: text.replace(/^(-?\d+),(\d+)$/, '$1.$2'), label: text }]
}

/** The same choices; those that look alike with their names in cues, so that they can be told apart. */
export function toldApart(choices: Choice[]): Choice[] {
  const counts = new Map<string, number>()
  for (const { label } of choices) counts.set(label, (counts.get(label) ?? 0) + 1)
  return choices.map((c) =>
    (counts.get(c.label) ?? 0) > 1 && c.value ? { ...c, label: `${c.label} (${c.value})` } : c,
  )
}

export function asChoices(values: readonly string[]): Choice[] {
  return values.map((value) => ({ value, label: value.replaceAll('_', ' ') }))
}
