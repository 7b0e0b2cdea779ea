import { placed } from '@/plan/designs'
import type { useBook } from '@/stores/book'
import type { Choice } from './choices'

type Book = ReturnType<typeof useBook>
const MOST_COUNTED = 9
/** The statuses of a quest by their numbers; one that is under way is chosen by its bead. */
const STATUSES: [number, string][] = [
  [0, 'unavailable'],
  [1, 'available'],
  [2, 'offered'],
  [5, 'done'],
  [6, 'declined'],
  [7, 'failed'],
]
const numbers = (from: number, to: number): Choice[] =>
  Array.from({ length: Math.max(to - from + 1, 0) }, (_, i) => ({ value: String(from + i), label: String(from + i) }))

/** What something assumed can be, by its column: what it says, then a name; nothing for what is not chosen by hand. */
export function valuesOf(book: Book, column: string): Choice[] {
  const [what = '', key = ''] = column.split(':')
  const thing = book.find('object', key)
  if (what === 'item') return numbers(0, Math.min(book.find('item', key)?.values.limit ?? 1, MOST_COUNTED))
  if (what === 'status') return STATUSES.map(([value, label]) => ({ value: String(value), label }))
  if (what === 'state' && thing)
    return placed(thing, book.kinds).design.states.map((s, i) => ({ value: String(i), label: s.name }))
  if (what === 'exists') return [{ value: '1', label: 'there' }, { value: '0', label: 'gone' }]
  const fact = what === 'fact' ? book.find('fact', key)?.values : undefined
  if (fact?.type === 'number') return numbers(fact.lowest, Math.min(fact.highest, fact.lowest + MOST_COUNTED))
  const either = ['fact', 'ability', 'met', 'exit'].includes(what)
  return either ? [{ value: '1', label: 'so' }, { value: '0', label: 'not so' }] : []
}

/** Everything that can be assumed besides, each with its value: `column=value`. */
export function assumable(book: Book): Choice[] {
  const each = (column: string, said: (value: string) => string): Choice[] =>
    valuesOf(book, column).map((c) => ({ value: `${column}=${c.value}`, label: said(c.label) }))
  return [
    ...book.of('item').flatMap((i) => each(`item:${i.key}`, (n) => `has ${n} ${i.values.name}`)),
    ...book.of('fact').flatMap((f) => each(`fact:${f.key}`, (so) => `${f.values.name}: ${so}`)),
    ...book.of('object').flatMap((o) => [
      ...each(`state:${o.key}`, (state) => `${o.values.name} is ${state}`),
      { value: `exists:${o.key}=0`, label: `${o.values.name} is gone` },
    ]),
    ...book.of('quest').flatMap((q) => each(`status:${q.key}`, (status) => `${q.values.name} is ${status}`)),
  ]
}

/** The name in cues of a value that has one, so that it is found again when others are put before it. */
export function nameOfValue(book: Book, column: string, value: number): string {
  const [what = '', key = ''] = column.split(':')
  const thing = what === 'state' ? book.find('object', key) : undefined
  return (thing && placed(thing, book.kinds).design.states[value]?.key) ?? ''
}
