export type ThingType = 'item' | 'fact' | 'ability' | 'sound'

export interface Group {
  type: ThingType
  title: string
  cap: string
  given: string
  empty: string
}

export const GROUPS: readonly Group[] = [
  { type: 'item', title: 'Items', cap: 'N', given: 'given', empty: 'No item yet. Items are given by cues, asked for by needs.' },
  { type: 'fact', title: 'Facts', cap: 'F', given: 'set', empty: 'No fact yet. A fact is something about the world that any cue can set and ask for.' },
  { type: 'ability', title: 'Abilities', cap: '', given: 'granted', empty: 'No ability yet. An ability is granted, often as a reward.' },
  { type: 'sound', title: 'Sounds', cap: '', given: 'played', empty: 'No sound yet.' },
]

/** A number of times in words. */
export function times(count: number): string {
  return count === 0 ? 'nowhere' : count === 1 ? 'once' : `${count} times`
}
