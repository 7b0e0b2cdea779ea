import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { ChangeAsked, RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { orderBefore, orderShifted } from '@/parts/ordering'
import { useBook } from '@/stores/book'

/** What is about to be written, and where. */
export interface Draft {
  id: number
  kind: 'line' | 'reply'
  /** The line it stands after, or that it answers; none at the end of a conversation. */
  after: RowOf<'line'> | null
  /** The line or reply that shall lead on to it. */
  leads: number | null
  opener: boolean
}
interface Options {
  talk: () => RowOf<'conversation'> | undefined
  lines: () => readonly RowOf<'line'>[]
  choose: (key: string) => void
}
export interface Writing {
  draft: Ref<Draft | null>
  /** After which line the draft stands; 0 for after all of them. */
  at: ComputedRef<number>
  opener: () => void
  follow: (line: RowOf<'line'> | undefined) => void
  answer: (line: RowOf<'line'>) => void
  /** What is typed of the draft. */
  typed: Ref<string>
  keep: (on: boolean) => void
  indent: (by: 1 | -1) => void
  close: () => void
  shift: (one: RowOf<'line'> | RowOf<'reply'>, by: 1 | -1) => Promise<void>
  putBefore: (one: RowOf<'line'> | RowOf<'reply'>, before: number | null) => Promise<void>
}

/** The screenplay written straight through: a draft at a time, kept by Enter, deeper and back by Tab. */
export function useWriting(of: Options): Writing {
  const book = useBook()
  const { quietly } = useQuietly()
  const draft = ref<Draft | null>(null)
  const typed = ref('')
  let number = 0
  /** What is kept is stored one after another; what is typed meanwhile stands in the draft that follows. */
  let turn: Promise<unknown> = Promise.resolve()
  function inTurn(work: () => Promise<void> | void): void {
    turn = turn.then(work)
  }
  const at = computed(() => draft.value?.after?.id ?? 0)

  function begin(kind: Draft['kind'], after: RowOf<'line'> | null, leads: number | null, opener = false): void {
    draft.value = { id: ++number, kind, after, leads, opener }
  }
  const ends = (line: RowOf<'line'>): boolean => !line.values.then && !book.of('reply', line.id).length
  function opener(): void {
    begin('line', null, null, true)
  }
  /** What is said after a line; without one, at the end. */
  function follow(line: RowOf<'line'> | undefined): void {
    begin('line', line ?? null, line && ends(line) ? line.id : null)
  }
  function answer(line: RowOf<'line'>): void {
    begin('reply', line, null)
  }
  function over(): void {
    draft.value = null
    typed.value = ''
  }
  function close(): void {
    inTurn(over)
  }
  /** Between a line and the next one of the conversation. */
  function orderAfter(line: RowOf<'line'> | null): number | null {
    if (!line) return null
    const lines = of.lines()
    const next = lines[lines.findIndex((l) => l.id === line.id) + 1]
    return next ? (line.order + next.order) / 2 : line.order + 1
  }
  async function stored(one: Draft, words: string): Promise<RowOf<'line'> | RowOf<'reply'> | undefined> {
    const talk = of.talk()
    if (!talk) return undefined
    const said = { wordings: [words] }
    const before = new Set(book.rows.keys())
    const change: Partial<ChangeAsked> =
      one.kind === 'reply'
        ? { do: 'add', type: 'reply', owner: one.after?.id ?? null, values: said }
        : {
            do: 'add',
            type: 'line',
            owner: talk.id,
            order: one.opener ? null : orderAfter(one.after),
            then_of: one.leads,
            values: { ...said, opener: one.opener, speaker: one.after?.values.speaker || talk.values.talker },
          }
    const done = await book.edit([change], one.kind === 'reply' ? 'Added a reply' : 'Added a line')
    return done.rows.find((r): r is RowOf<'line'> | RowOf<'reply'> => r.type === one.kind && !before.has(r.id))
  }
  async function kept(words: string): Promise<{ was: Draft; row: RowOf<'line'> | RowOf<'reply'> } | null> {
    const was = draft.value
    if (!was) return null
    let row: RowOf<'line'> | RowOf<'reply'> | undefined
    const done = await quietly(stored(was, words).then((found) => (row = found)))
    if (done && row?.type === 'line') of.choose(row.key)
    return done && row ? { was, row } : null
  }
  function taken(): string {
    const words = typed.value.trim()
    typed.value = ''
    return words
  }
  /** What was refused stands there again. */
  function back(words: string): void {
    typed.value = words + typed.value
  }
  function keep(on: boolean): void {
    const words = taken()
    inTurn(async () => {
      if (!words) return over()
      const done = await kept(words)
      if (!done) return back(words)
      if (!on) return over()
      if (done.row.type === 'line') follow(done.row)
      else if (done.was.after) answer(done.was.after)
    })
  }
  /** Tab makes an answer of a line, and after an answer writes what follows it; Shift+Tab goes back to a line. */
  function indent(by: 1 | -1): void {
    const words = by > 0 ? taken() : ''
    inTurn(async () => {
      const one = draft.value
      if (!one) return
      if (by < 0) return one.kind === 'reply' ? begin('line', one.after, null) : undefined
      if (!words) return one.kind === 'line' && one.after ? begin('reply', one.after, null) : undefined
      const done = await kept(words)
      if (!done) return back(words)
      if (done.row.type === 'reply') begin('line', done.was.after, done.row.id)
      else begin('reply', done.row, null)
    })
  }

  // --- the order

  async function put(one: RowOf<'line'> | RowOf<'reply'>, order: number | undefined): Promise<void> {
    const name = one.type === 'line' ? 'Moved a line' : 'Moved a reply'
    if (order !== undefined) await quietly(book.edit([{ do: 'set', id: one.id, order }], name))
  }
  const beside = (one: RowOf<'line'> | RowOf<'reply'>): readonly (RowOf<'line'> | RowOf<'reply'>)[] =>
    one.type === 'line' ? of.lines() : book.of('reply', one.owner ?? 0)
  const shift = (one: RowOf<'line'> | RowOf<'reply'>, by: 1 | -1): Promise<void> =>
    put(one, orderShifted(beside(one), one.id, by))
  const putBefore = (one: RowOf<'line'> | RowOf<'reply'>, before: number | null): Promise<void> =>
    put(one, orderBefore(beside(one), one.id, before))
  return { draft, at, typed, opener, follow, answer, keep, indent, close, shift, putBefore }
}
