import type { Choice } from '@/parts/choices'
import type { Fields } from '@/parts/fields'

/** What a line or a reply says of how the talk goes on. */
const then = (onward: () => Choice[]): Fields[string] => ({
  label: 'then',
  choices: onward,
  said: (v) => onward().find((o) => o.value === v)?.label ?? String(v),
})

export const lineFields = (onward: () => Choice[], reckoned: () => string): Fields => ({
  opener: { label: 'opener', either: ['opener', 'line'] },
  seconds: {
    label: 'voice seconds',
    said: (v) => (v === null || v === undefined ? `${reckoned()} s by its length` : `${v} s`),
    typed: (v) => (v as number | null) ?? Number(reckoned()),
    lowest: 0.1,
  },
  repeat: { label: 'repeat', words: { every_time: 'Every time', once: 'Once only' } },
  last_stays: { label: 'wordings', either: ['one after another, the last for ever', 'in turn'] },
  holds_player: { label: 'holds the player', either: ['yes', 'no'] },
  then: then(onward),
})

export const replyFields = (onward: () => Choice[]): Fields => ({
  wording: { label: 'reply' },
  then: then(onward),
  unmet: { label: 'unmet', words: { hidden: 'hidden', greyed: 'greyed' } },
})
