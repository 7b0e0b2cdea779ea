export type ThingType = 'item' | 'fact' | 'ability' | 'role' | 'tag' | 'namedneed' | 'sound'

export interface Group {
  type: ThingType
  title: string
  cap: string
  one: string
  given: string
  empty: string
}

export const GROUPS: readonly Group[] = [
  {
    type: 'item',
    title: 'Items',
    one: 'item',
    cap: 'N',
    given: 'given',
    empty: 'No item yet. Items are given by cues, asked for by needs.',
  },
  {
    type: 'fact',
    title: 'Facts',
    one: 'fact',
    cap: 'F',
    given: 'set',
    empty: 'No fact yet. A fact is something about the world that any cue can set and ask for.',
  },
  {
    type: 'ability',
    title: 'Abilities',
    one: 'ability',
    cap: '',
    given: 'granted',
    empty: 'No ability yet. An ability is granted, often as a reward.',
  },
  {
    type: 'role',
    title: 'Roles',
    one: 'role',
    cap: '',
    given: 'filled',
    empty: 'No role yet. A role is a name for somebody or something decided while playing.',
  },
  {
    type: 'tag',
    title: 'Tags',
    one: 'tag',
    cap: '',
    given: '',
    empty: 'No tag yet. A tag picks out several objects at once.',
  },
  {
    type: 'namedneed',
    title: 'Named needs',
    one: 'named need',
    cap: '',
    given: '',
    empty: 'No named need yet. Name a condition once, and use it in many places.',
  },
  { type: 'sound', title: 'Sounds', one: 'sound', cap: '', given: 'played', empty: 'No sound yet.' },
]

/** What a row of a table says at its end; in amber where something is amiss. */
export interface Note {
  words: string
  amber?: boolean
}

/** A number of times in words. */
export function times(count: number): string {
  return count === 0 ? 'nowhere' : count === 1 ? 'once' : `${count} times`
}
