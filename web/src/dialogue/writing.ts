import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { ChangeAsked, RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
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
  shift: (line: RowOf<'line'>, by: 1 | -1) => Promise<void>
  shiftReply: (reply: RowOf<'reply'>, by: 1 | -1) => Promise<void>
  put: (line: RowOf<'line'>, before: RowOf<'line'> | null) => Promise<void>
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

  async function put(line: RowOf<'line'>, before: RowOf<'line'> | null): Promise<void> {
    const others = of.lines().filter((l) => l.id !== line.id)
    const at = before ? others.findIndex((l) => l.id === before.id) : others.length
    const [above, below] = [others[at - 1]?.order, others[at]?.order]
    const order = above === undefined ? (below ?? 1) - 1 : below === undefined ? above + 1 : (above + below) / 2
    await quietly(book.edit([{ do: 'set', id: line.id, order }], 'Moved a line'))
  }
  async function shift(line: RowOf<'line'>, by: 1 | -1): Promise<void> {
    const lines = of.lines()
    const at = lines.findIndex((l) => l.id === line.id)
    if (!lines[at + by]) return
    await put(line, lines[by > 0 ? at + 2 : at - 1] ?? null)
  }
  async function shiftReply(reply: RowOf<'reply'>, by: 1 | -1): Promise<void> {
    const all = book.of('reply', reply.owner ?? 0)
    const at = all.findIndex((r) => r.id === reply.id)
    const [near, far] = [all[at + by], all[at + 2 * by]]
    if (!near) return
    const order = far ? (near.order + far.order) / 2 : near.order + by
    await quietly(book.edit([{ do: 'set', id: reply.id, order }], 'Moved a reply'))
  }
  return { draft, at, typed, opener, follow, answer, keep, indent, close, shift, shiftReply, put }
}
