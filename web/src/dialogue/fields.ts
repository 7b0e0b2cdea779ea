import type { Choice } from '@/parts/choices'
import type { Fields } from '@/parts/fields'
import type { useBook } from '@/stores/book'
import { wordingsOf } from './wording'

/** Who can speak: what stands in a level, or whoever fills a role by then. */
export function talkersOf(book: ReturnType<typeof useBook>, nobody: string): Choice[] {
  return [
    { value: '', label: nobody },
    ...book.of('object').map((o) => ({ value: o.key, label: o.values.name })),
    ...book.of('role').map((r) => ({ value: r.key, label: `whoever is ${r.values.name}` })),
  ]
}

/** What a line or a reply says of how the talk goes on. */
const then = (onward: () => Choice[]): Fields[string] => ({
  label: 'then',
  choices: onward,
  said: (v) => onward().find((o) => o.value === v)?.label ?? String(v),
})

export const lineFields = (
  onward: () => Choice[],
  sounds: () => Choice[],
  speakers: () => Choice[],
  reckoned: () => string,
): Fields => ({
  speaker: {
    label: 'speaker',
    choices: speakers,
    said: (v) => speakers().find((s) => s.value === v)?.label ?? String(v),
  },
  voice: { label: 'voice', choices: sounds, said: (v) => sounds().find((s) => s.value === v)?.label ?? String(v) },
  opener: { label: 'opener', either: ['opener', 'line'] },
  seconds: {
    label: 'voice seconds',
    said: (v) => (v === null || v === undefined ? reckoned() : `${v} s`),
    typed: (v) => (v as number | null) ?? Number.parseFloat(reckoned()),
    lowest: 0.1,
  },
  repeat: { label: 'repeat', words: { every_time: 'Every time', once: 'Once only' } },
  last_stays: { label: 'wordings', either: ['one after another, the last for ever', 'in turn'] },
  holds_player: { label: 'holds the player', either: ['yes', 'no'] },
  then: then(onward),
})

/** Several wordings as they are typed: with a stroke between them. */
const WORDINGS: Fields[string] = {
  label: 'wordings',
  long: true,
  said: (v) => (v as string[]).join(' / '),
  typed: (v) => (v as string[]).join(' / '),
  kept: (typed) => wordingsOf(typed),
}

export const replyFields = (onward: () => Choice[]): Fields => ({
  wordings: { ...WORDINGS, label: 'reply' },
  repeat: { label: 'reply repeat', words: { every_time: 'every time', once: 'once only' } },
  last_stays: { label: 'reply wordings', either: ['one after another, the last for ever', 'in turn'] },
  then: then(onward),
  unmet: { label: 'unmet', words: { hidden: 'hidden', greyed: 'greyed' } },
})
