import type { Schemas } from '@/api/client'

/** The first words of a wording, with … where it goes on. */
export function firstWords(text: string, most: number): string {
  if (text.length <= most) return text
  return `${text.slice(0, most).replace(/\s+\S*$/, '').replace(/[,.;:]$/, '')}…`
}

/** The wordings in what was typed, with a stroke between them; none for nothing. */
export function wordingsOf(typed: string): string[] | undefined {
  const found = typed.split(' / ').map((w) => w.trim()).filter(Boolean)
  return found.length ? found : undefined
}

/** The needs of a text as one phrase; … until they are read. */
export function needsWords(reading: Schemas['TextReading'] | undefined): string {
  if (!reading) return '…'
  return reading.tokens.length ? reading.tokens.map((t) => t.text).join('') : 'nothing else fits'
}
