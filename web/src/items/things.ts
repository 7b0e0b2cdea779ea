export type ThingType = 'item' | 'fact' | 'ability' | 'sound'

export interface Group {
  type: ThingType
  title: string
  cap: string
  empty: string
}

export const GROUPS: readonly Group[] = [
  { type: 'item', title: 'Items', cap: 'N', empty: 'No item yet. Items are given by cues, asked for by needs.' },
  { type: 'fact', title: 'Facts', cap: 'F', empty: 'No fact yet. A fact is something about the world that any cue can set and ask for.' },
  { type: 'ability', title: 'Abilities', cap: '', empty: 'No ability yet. An ability is granted, often as a reward.' },
  { type: 'sound', title: 'Sounds', cap: '', empty: 'No sound yet.' },
]

const GIVES: Record<ThingType, string> = { item: 'give(?: \\d+)?', fact: '(?:set|to)', ability: 'grant', sound: 'sound' }
const ASKS: Record<ThingType, string> = { item: '(?:has(?: exactly| fewer than)?(?: \\d+)?|take(?: \\d+)?)', fact: '(?:only if|and|or|not)', ability: 'can', sound: '(?!)' }

/** In how many texts a thing is given (or set, granted, played) and asked for. */
export function givenAndAsked(type: ThingType, key: string, texts: string[]): { given: string; asked: string } {
  const count = (pattern: string): number => texts.filter((t) => new RegExp(`(?:^|\\s)${pattern} ${key}\\b`).test(t)).length
  const gives = count(GIVES[type])
  const asks = type === 'fact' ? texts.filter((t) => new RegExp(`(?:^|\\s|\\()${ASKS[type]} ${key}\\b|^${key}\\b`).test(t)).length : count(ASKS[type])
  const verb = { item: 'given', fact: 'set', ability: 'granted', sound: 'played' }[type]
  return { given: `${verb} ${times(gives)}`, asked: type === 'sound' ? '' : `asked for ${times(asks)}` }
}

function times(count: number): string {
  return count === 0 ? 'nowhere' : count === 1 ? 'once' : `${count} times`
}
