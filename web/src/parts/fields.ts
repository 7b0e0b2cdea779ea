import { DESCRIBED, type Described } from '@/api/described'
import { asChoices, type Choice } from './choices'

export type TypeName = keyof typeof DESCRIBED

/** How one field of a record reads and is changed on a page. What it can hold comes from the server's types. */
export interface Field {
  label: string
  /** The field of the record, where the slot has another name. */
  field?: string
  /** The words for yes and for no. */
  either?: readonly [yes: string, no: string]
  /** The words for what it can be. */
  words?: Readonly<Record<string, string>>
  choices?: () => Choice[]
  /** How a value reads in the sentence. */
  said?: (value: unknown) => string
  /** What stands in the word when it is opened. */
  typed?: (value: unknown) => string | number
  /** The value that was meant by what was typed; undefined for nonsense, which changes nothing. */
  kept?: (typed: string) => unknown
  unit?: string
  step?: number
  lowest?: number
  highest?: number
  long?: true
}
export type Fields = Readonly<Record<string, Field>>

/** What stands for a value in which several things differ. */
export const VARIOUS = Symbol('various')

/** The values of several things in one: what they share, and `VARIOUS` where they differ. */
export function together(all: readonly object[]): Record<string, unknown> {
  const [first = {}, ...rest] = all as Record<string, unknown>[]
  const shared = (field: string, value: unknown): boolean =>
    rest.every((one) => JSON.stringify(one[field]) === JSON.stringify(value))
  return Object.fromEntries(Object.entries(first).map(([f, v]) => [f, shared(f, v) ? v : VARIOUS]))
}

/** A field with everything that is needed to show and change it. */
export interface FullField {
  path: string
  label: string
  kind: 'text' | 'number' | 'choice' | 'long'
  choices?: () => Choice[]
  said: (value: unknown) => string
  typed: (value: unknown) => string | number
  kept: (typed: string) => unknown
  step: number
  lowest: number | undefined
  highest: number | undefined
  /** What it is where nothing is said. */
  usual: unknown
}

/** The unit of a field by the end of its name, with the step in which it is changed. */
const UNITS: readonly (readonly [RegExp, string, number])[] = [
  [/_m$|^[xy]_m$/, ' m', 0.1],
  [/_deg$/, '°', 5],
  [/_mps$/, ' m/s', 0.1],
  [/_s$|^seconds$/, ' s', 0.1],
]

export function fullField(of: TypeName, slot: string, field: Field): FullField {
  const path = field.field ?? slot
  const described = (DESCRIBED[of] as Readonly<Record<string, Described>>)[path]
  const number = described?.sort === 'number' || described?.sort === 'whole'
  const [, unit = '', usualStep = 1] = (number && UNITS.find(([end]) => end.test(path))) || []
  const either = field.either
  const words = field.words ?? Object.fromEntries((described?.words ?? []).map((w) => [w, w.replaceAll('_', ' ')]))
  const choices = field.choices ?? choicesOf(either, words)
  const said = field.said ?? ((value) => saidOf(value, either, words, field.unit ?? unit))
  const typed = field.typed ?? ((value) => (number ? ((value as number | null) ?? '') : String(value)))
  return {
    path,
    label: field.label,
    kind: choices ? 'choice' : number ? 'number' : field.long ? 'long' : 'text',
    ...(choices ? { choices } : {}),
    said: (value) => (value === VARIOUS ? 'various' : said(value)),
    typed: (value) => (value === VARIOUS ? '' : typed(value)),
    kept: field.kept ?? ((typed) => (number ? numberOf(typed, described) : either ? typed === '1' : typed)),
    step: field.step ?? (described?.sort === 'whole' ? 1 : usualStep),
    lowest: field.lowest ?? described?.lowest,
    highest: field.highest ?? described?.highest,
    usual: described?.empty ? null : described?.usual,
  }
}
function choicesOf(either: Field['either'], words: Readonly<Record<string, string>>): (() => Choice[]) | undefined {
  if (either)
    return () => [
      { value: '1', label: either[0] },
      { value: '', label: either[1] },
    ]
  const known = Object.entries(words)
  return known.length ? () => known.map(([value, label]) => ({ value, label })) : undefined
}
function saidOf(
  value: unknown,
  either: Field['either'],
  words: Readonly<Record<string, string>>,
  unit: string,
): string {
  if (either) return value ? either[0] : either[1]
  return words[String(value)] ?? `${value}${unit}`
}
function numberOf(typed: string, described: Described | undefined): number | null | undefined {
  if (!typed.trim() && described?.empty) return null
  const value = Number(typed)
  if (!typed.trim() || !Number.isFinite(value)) return undefined
  return described?.sort === 'whole' ? Math.round(value) : value
}

/** A stretch of a sentence, or one that stands only where something holds. */
export type SentencePart = string | readonly [holds: unknown, text: string]

/** A piece of a sentence: words, a field, or a slot that the page fills. */
export type Piece = { words: string } | { field: string } | { slot: string }

/** The pieces of a sentence: `{radius_m}` is a field, `{#cap}` what the page puts there. */
export function piecesOf(parts: readonly SentencePart[]): Piece[] {
  const text = parts.map((p) => (typeof p === 'string' ? p : p[0] ? p[1] : '')).join('')
  return text
    .split(/(\{[^}]+\})/)
    .filter(Boolean)
    .map((piece) => {
      if (!piece.startsWith('{')) return { words: piece }
      const name = piece.slice(1, -1)
      return name.startsWith('#') ? { slot: name.slice(1) } : { field: name }
    })
}

export { asChoices }
